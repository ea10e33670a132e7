import {
  compileEfforts,
  courseEdges,
  type Effort,
  type Leading,
  type SwitchSchedule,
  type WrenchSchedule,
} from '../dynamics';
import { cycleTime, type Machine } from '../machine';
import {
  copyOf,
  indexerGeometry,
  indexerHalfAngle,
  leadPose,
  positionsOf,
  type MechanismModel,
  type Mobility,
  type Positions,
} from '../mechanism';
import { motionAt, type MachineMotions, type Motion, type MotionState } from '../motion';
import { bisectChange } from '../numeric';
import { elementFormulas } from './effort-formula';
import type { MechanismFinding } from './mechanism-run';
import { prepareMechanism } from './prepare';

/** State of an axis at a time in s, along its positive direction. */
export type AxisReader = (axisId: string, time: number) => MotionState;

/** What leads the axes that drive a mechanism, by axis identifier. */
export type AxisMotions = ReadonlyMap<string, { motion: Motion; reversed: boolean }>;

/** Forces of loose parts as they are taken down, and the bodies they may act on. */
export interface PartsOnBodies {
  schedule: WrenchSchedule;
  bodies: readonly string[];
}

/** A bend of the forces of parts by more than this share of their largest is sampled where it is. */
const BEND = 0.02;
/** One by less than this share is no reason for a finer step: forces are means over contact steps, with noise on them. */
const QUIET_BEND = 0.001;

/** Times at which a run is not smooth, and those of them at which something jumps; s. */
export interface RunEdges {
  edges: number[];
  steps: number[];
}

/** The same of a mechanism, and times at which forces of parts bend too little to be sampled there. */
export interface MechanismEdges extends RunEdges {
  quiet: number[];
}

/**
 * The mechanism of a machine made ready for one cycle: its equations, all that acts on it (formulas and the forces of
 * loose parts among it), and how axes lead it. Built once; a cycle that is simulated and the run over it share it.
 */
export class MechanismSystem {
  readonly model: MechanismModel | null;
  /** The drawing brought together, before the drives lead it. */
  readonly assembled: Positions;
  readonly mobility: Mobility | null;
  /** What can be said before anything moves. */
  readonly findings: readonly MechanismFinding[];
  /** Whether it can be run at all. */
  readonly runs: boolean;
  readonly efforts: readonly Effort[];
  /** +1 or −1 by drive: the positive direction of the joint seen from its axis. */
  readonly signs: readonly number[];
  /** Why a simulated cycle could not go on, if so. */
  failure: MechanismFinding | null = null;
  private readonly formulas: ReturnType<typeof elementFormulas>;

  /** @param motions what formulas read; they may be coming to be still */
  constructor(
    private readonly machine: Machine,
    motions: MachineMotions,
    private readonly parts: PartsOnBodies | null = null,
    readonly switches: SwitchSchedule | null = null,
  ) {
    const prepared = prepareMechanism(machine);
    const made = 'model' in prepared ? prepared : null;
    this.formulas = elementFormulas(machine, motions);
    this.findings = [...prepared.findings, ...this.formulas.findings];
    this.runs = prepared.runs;
    this.model = made?.model ?? null;
    this.assembled = made?.q ?? positionsOf({ size: 0 });
    this.mobility = made?.mobility ?? null;
    this.efforts = made
      ? compileEfforts(made.model, {
          cycleTime: cycleTime(machine),
          formulas: this.formulas.values,
          parts: parts ?? undefined,
          switches: switches ?? undefined,
        })
      : [];
    const reversed = new Set(machine.axes.filter((axis) => axis.reversed).map(({ id }) => id));
    this.signs = made ? made.model.drives.map(({ axisId }) => (reversed.has(axisId) ? -1 : 1)) : [];
  }

  /** Whether freedoms are left that forces alone move. */
  get isFree(): boolean {
    return this.mobility !== null && this.mobility.remaining > 0;
  }

  /** Whether a stop acts at a time in s. */
  readonly acts = (stop: string, time: number): boolean => this.switches?.isOn(stop, time) ?? true;

  /** What acts, without parts on bodies that none ever touched. */
  actingEfforts(): readonly Effort[] {
    return this.efforts.filter(({ kind, id }) => kind !== 'parts' || this.parts?.schedule.touches(id));
  }

  /** What drives are led to, read from the axes. */
  leading(read: AxisReader): Leading {
    const drives = this.model?.drives ?? [];
    return (time, out) =>
      drives.forEach(({ axisId }, i) => {
        const { position, velocity, acceleration } = read(axisId, time);
        const sign = this.signs[i]!;
        out.position[i] = sign * position;
        out.rate[i] = sign * velocity;
        out.change[i] = sign * acceleration;
      });
  }

  /**
   * Leads the drawing to where the drives begin, the freedoms left going along the least way.
   * @param positions of the drives, along their joints
   * @returns the pose, or a finding that says which axis begins out of reach
   */
  startAt(positions: readonly number[]): Positions | MechanismFinding {
    const { model, mobility } = this;
    const q = copyOf(this.assembled);
    if (!model || !mobility || leadPose(model, q, mobility.rows, positions) === 1) return q;
    const far = model.drives.findIndex(({ coordinate }, i) => Math.abs(coordinate.value(q) - positions[i]!) > 1e-9);
    const drive = Math.max(0, far);
    this.assembled.set(q);
    return this.startFar(drive, positions[drive]!, q);
  }

  /** The finding of a drive that begins where the mechanism does not get to. */
  startFar(drive: number, wanted: number, q: Positions): MechanismFinding {
    const { axisId, coordinate } = this.model!.drives[drive]!;
    const sign = this.signs[drive]!;
    return {
      code: 'start-far',
      severity: 'error',
      axisId,
      wanted: sign * wanted,
      reached: sign * coordinate.value(q),
    };
  }

  /**
   * Times at which the run is not smooth: loads that change, formulas, blows of parts, pins that enter an indexing wheel.
   * @param duration length of the run, s
   */
  edges(motions: MachineMotions, led: AxisMotions, duration: number): MechanismEdges {
    const { mechanism } = this.machine;
    const T = cycleTime(this.machine);
    const edges: number[] = [];
    const steps: number[] = [];
    for (const element of mechanism.elements)
      if ((element.on || this.switches?.has(element.id)) && (element.kind === 'force' || element.kind === 'torque')) {
        const places = courseEdges(element.course, T, duration);
        edges.push(...places);
        // A place that stands twice is a jump.
        places.forEach((place, i) => place === places[i - 1] && steps.push(place));
      }
    for (const coupling of mechanism.couplings) {
      if (coupling.kind !== 'indexer') continue;
      const axis = this.machine.axes.find(({ joint }) => joint === coupling.first);
      const crank = led.get(axis?.id ?? '');
      if (!crank) continue;
      const { shift } = indexerGeometry(coupling, mechanism);
      const changes = engagements(crank, shift, indexerHalfAngle(coupling.slots));
      edges.push(...changes);
      steps.push(...changes);
    }
    // Where a formula is not smooth it may jump: both sides are sampled.
    const jumps = this.formulas.edges(motions, duration);
    const blows = this.parts?.schedule.edges(BEND) ?? [];
    const switched = (this.switches?.times ?? []).filter((time) => time > 0 && time < duration);
    const quiet = this.parts?.schedule.edges(QUIET_BEND) ?? [];
    return { edges: [...edges, ...jumps, ...blows, ...switched], steps: [...steps, ...jumps, ...switched], quiet };
  }
}

/** Times at which the pin of an indexing wheel enters or leaves a slot. */
function engagements(
  { motion, reversed }: { motion: Motion; reversed: boolean },
  shift: number,
  half: number,
): number[] {
  const engaged = (time: number) => {
    const angle = (reversed ? -1 : 1) * motionAt(motion, time).position + shift;
    return Math.abs(angle - 2 * Math.PI * Math.round(angle / (2 * Math.PI))) < half;
  };
  const changes: number[] = [];
  for (const { from, to, law, stroke } of motion.stretches) {
    if (!law) continue;
    const probes = Math.max(90, Math.ceil((90 * Math.abs(stroke)) / Math.PI));
    for (let i = 0; i < probes; i++) {
      const [a, b] = [from + ((to - from) * i) / probes, from + ((to - from) * (i + 1)) / probes];
      if (engaged(a) !== engaged(b)) changes.push(bisectChange(engaged, a, b));
    }
  }
  return changes;
}
