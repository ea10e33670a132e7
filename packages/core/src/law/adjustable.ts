import { lobedLaw, type FlankForm, type LobeShape } from './lobes';
import type { LawEnds, LawFamily, LawParameters, LawParameterSpec } from './types';

const UNIT: LawEnds = { rise: 1, v0: 0, v1: 0, a0: 0, a1: 0 };

const share = (name: string, label: string, usual: number, min: number, max: number): LawParameterSpec => ({
  name,
  label,
  default: usual,
  min,
  max,
});

const parameters = (up: number, down: number): LawParameterSpec[] => [
  share('split', 'Accelerating, of the time not straight', 0.5, 0.05, 0.95),
  share('straight', 'At constant speed, of the time', 0, 0, 0.9),
  share('up', 'Flank where acceleration grows', up, 0, 1),
  share('down', 'Flank where it falls', down, 0, 1),
];

function shapeOf(form: FlankForm, usual: readonly LawParameterSpec[], given: LawParameters): LobeShape {
  const value = (name: string) => given[name] ?? usual.find((spec) => spec.name === name)!.default;
  const lobes = 1 - value('straight');
  const first = lobes * value('split');
  const up = value('up');
  // Flanks that would overlap meet instead.
  return { form, up, down: Math.min(value('down'), 1 - up), first, second: lobes - first };
}

const sine = parameters(0.25, 0.25);
const linear = parameters(0.25, 0.25);

/**
 * Sine-flanked acceleration with every share open: the family to which parabola, harmonic, inclined sine, modified
 * sine and modified trapezoid belong (Norton, Cam Design and Manufacturing Handbook: sine–constant–cosine).
 */
export const ADJUSTABLE: LawFamily = {
  id: 'adjustable',
  name: 'Adjustable sine flanks',
  formula: 'f″ = A₁·g(τ/l₁) in the first lobe, 0, then −A₂·g((1 − τ)/l₂); g has quarter-sine flanks',
  tasks: ['R–R', 'R–G', 'G–G'],
  advice: 'Modified trapezoid and sine with open shares: brake longer than you accelerate, or run straight between.',
  parameters: sine,
  make: (given) => lobedLaw(shapeOf('sine', sine, given), UNIT),
  between: (ends, given) => lobedLaw(shapeOf('sine', sine, given), ends),
};

/** Acceleration with straight flanks: the seven phases of a jerk-limited drive, as shares of the time. */
export const JERK_LIMITED: LawFamily = {
  id: 'jerkLimited',
  name: 'Jerk-limited',
  formula: 'f‴ constant in each of seven phases: J, 0, −J, 0, −J, 0, J',
  tasks: ['R–R', 'R–G', 'G–G'],
  advice: 'What a drive with a jerk limit does; flanks of a quarter keep both jerk and acceleration moderate.',
  parameters: linear,
  make: (given) => lobedLaw(shapeOf('linear', linear, given), UNIT),
  between: (ends, given) => lobedLaw(shapeOf('linear', linear, given), ends),
};
