import { lobedLaw } from './lobes';
import { mirrored, put, whole } from './pieces';
import type { LawFamily } from './types';

const PI = Math.PI;

const harmonic = whole(
  (t) => [
    (1 - Math.cos(PI * t)) / 2,
    (PI / 2) * Math.sin(PI * t),
    ((PI * PI) / 2) * Math.cos(PI * t),
    (-(PI ** 3) / 2) * Math.sin(PI * t),
  ],
  { accelerationSteps: [0, 1] },
);

/** Simple harmonic: f = (1 − cos πτ)/2 (VDI 2143 part 1). */
export const HARMONIC: LawFamily = {
  id: 'harmonic',
  name: 'Simple harmonic',
  formula: 'f = ½(1 − cos πτ)',
  tasks: ['R–R', 'R–G', 'G–G', 'U–U'],
  advice: 'Smooth between reversals; against a dwell the acceleration steps at the ends.',
  parameters: [],
  make: () => harmonic,
  between: (ends) => lobedLaw({ form: 'sine', up: 0, down: 1, first: 0.5, second: 0.5 }, ends),
};

const cycloidal = whole((t) => [
  t - Math.sin(2 * PI * t) / (2 * PI),
  1 - Math.cos(2 * PI * t),
  2 * PI * Math.sin(2 * PI * t),
  4 * PI * PI * Math.cos(2 * PI * t),
]);

/** Cycloidal or inclined sine: f = τ − sin(2πτ)/2π (VDI 2143 part 1). */
export const CYCLOIDAL: LawFamily = {
  id: 'cycloidal',
  name: 'Inclined sine',
  formula: 'f = τ − sin(2πτ)/2π',
  tasks: ['R–R', 'R–G', 'G–G'],
  advice: 'The cycloidal law; lowest jerk of the simple ones: quiet, at the price of a high peak acceleration.',
  parameters: [],
  make: () => cycloidal,
  between: (ends) => lobedLaw({ form: 'sine', up: 0.5, down: 0.5, first: 0.5, second: 0.5 }, ends),
};

const W = 4 * PI;
const SINE_CA = (W * PI) / (4 + PI);
const SINE_W2 = W / 3;
/** Offset of the slow sine in f′, from continuity at τ = 1/8. */
const SINE_V = SINE_CA / W;
const SINE_F8 = (SINE_CA / W) * (1 / 8 - 1 / W);

const modifiedSine = mirrored(
  (t, out, o) => {
    if (t < 1 / 8) {
      put(
        out,
        o,
        (SINE_CA / W) * (t - Math.sin(W * t) / W),
        (SINE_CA / W) * (1 - Math.cos(W * t)),
        SINE_CA * Math.sin(W * t),
        SINE_CA * W * Math.cos(W * t),
      );
      return;
    }
    const angle = SINE_W2 * (t - 1 / 8);
    put(
      out,
      o,
      SINE_F8 + SINE_V * (t - 1 / 8) + (SINE_CA / (SINE_W2 * SINE_W2)) * (1 - Math.cos(angle)),
      SINE_V + (SINE_CA / SINE_W2) * Math.sin(angle),
      SINE_CA * Math.cos(angle),
      -SINE_CA * SINE_W2 * Math.sin(angle),
    );
  },
  [1 / 8],
);

/** Modified sine: quick sine for the first and last eighth, slow sine between (VDI 2143 part 1; Norton). */
export const MODIFIED_SINE: LawFamily = {
  id: 'modifiedSine',
  name: 'Modified sine',
  formula: 'f″ = Ca·sin 4πτ up to τ = ⅛, Ca·cos(4π(τ − ⅛)/3) up to ½, then mirrored',
  tasks: ['R–R', 'R–G', 'G–G'],
  advice: 'Least peak torque and power on an inertia load: first choice for heavy indexing.',
  parameters: [],
  make: () => modifiedSine,
  between: (ends) => lobedLaw({ form: 'sine', up: 0.25, down: 0.75, first: 0.5, second: 0.5 }, ends),
};

const TRAP_CA = (8 * PI) / (2 + PI);
const TRAP_A = TRAP_CA / W;
const TRAP_F8 = TRAP_A * (1 / 8 - 1 / W);
const TRAP_V38 = TRAP_A + TRAP_CA / 4;
const TRAP_F38 = TRAP_F8 + TRAP_A / 4 + TRAP_CA / 32;

const modifiedTrapezoid = mirrored(
  (t, out, o) => {
    if (t < 1 / 8) {
      put(
        out,
        o,
        TRAP_A * (t - Math.sin(W * t) / W),
        TRAP_A * (1 - Math.cos(W * t)),
        TRAP_CA * Math.sin(W * t),
        TRAP_CA * W * Math.cos(W * t),
      );
    } else if (t < 3 / 8) {
      const u = t - 1 / 8;
      put(out, o, TRAP_F8 + TRAP_A * u + (TRAP_CA * u * u) / 2, TRAP_A + TRAP_CA * u, TRAP_CA, 0);
    } else {
      const u = t - 3 / 8;
      put(
        out,
        o,
        TRAP_F38 + TRAP_V38 * u + (TRAP_A / W) * (1 - Math.cos(W * u)),
        TRAP_V38 + TRAP_A * Math.sin(W * u),
        TRAP_CA * Math.cos(W * u),
        -TRAP_CA * W * Math.sin(W * u),
      );
    }
  },
  [1 / 8, 3 / 8],
);

/** Modified trapezoid: acceleration trapezoid with sine flanks of an eighth (VDI 2143 part 1; Norton). */
export const MODIFIED_TRAPEZOID: LawFamily = {
  id: 'modifiedTrapezoid',
  name: 'Modified trapezoid',
  formula: 'f″ = Ca·sin 4πτ up to τ = ⅛, Ca up to ⅜, Ca·cos 4π(τ − ⅜) up to ½, then mirrored',
  tasks: ['R–R', 'R–G', 'G–G'],
  advice: 'Low peak acceleration without steps: for light loads at high rate.',
  parameters: [],
  make: () => modifiedTrapezoid,
  between: (ends) => lobedLaw({ form: 'sine', up: 0.25, down: 0.25, first: 0.5, second: 0.5 }, ends),
};
