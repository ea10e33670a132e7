import { allSolids, UNASSIGNED, type CycleRecord, type Machine } from '@yoke/core';

/** What a walk looks at to tell how far one has come. */
export interface WalkState {
  machine: Machine;
  /** Freedoms that no drive takes; null where there is no mechanism, or it does not go together. */
  remaining: number | null;
  record: Pick<CycleRecord, 'end'> | null;
  /** Errors that the run has found; null while there is no run. */
  errors: number | null;
  /** Motors that fit the selected axis; null while nothing is ranked. */
  fitting: readonly string[] | null;
}

/** One step of a walk: what to do, where, and how one sees that it is done. */
export interface WalkStep {
  text: string;
  stage: string;
  part?: string;
  done(state: WalkState): boolean;
}

/** A walk through one job, to be gone beside the work. */
export interface Walk {
  id: string;
  title: string;
  steps: readonly WalkStep[];
}

const moves = ({ machine: { axes } }: WalkState) =>
  axes.some(({ plan }) => plan.segments.some(({ kind }) => kind !== 'dwell'));
const anAxis: WalkStep = {
  text: 'Add a slide or a table: what shall move, along a line or about a centre.',
  stage: 'build',
  part: 'axes',
  done: ({ machine }) => machine.axes.length > 0,
};
const aMove: WalkStep = {
  text: 'Give it a move: how far, in what time. Drag the knees of its line, or type them.',
  stage: 'move',
  done: moves,
};
const onGround = (machine: Machine) =>
  machine.mechanism.joints.some((joint) => joint.b.body === 'ground' || ('a' in joint && joint.a.body === 'ground'));
const between = (machine: Machine) =>
  machine.mechanism.joints.some((joint) => 'a' in joint && joint.a.body !== 'ground' && joint.b.body !== 'ground');

const watches = ({ clearances }: Machine) => clearances?.watches ?? [];
/** Planes that ride on bodies. */
const carried = ({ mechanism }: Machine) => mechanism.planes.filter(({ on }) => on !== 'ground');
/** Whether some axis goes to where it stands in a marked pose. */
const reachesMarks = ({ axes, poses, sequence }: Machine) =>
  (poses ?? []).slice(1).some(({ at }) =>
    at.some(({ axis, position }) => {
      const near = (place: number) => Math.abs(place - position) < 1e-9;
      const plan = axes.find(({ id }) => id === axis)?.plan;
      return (
        plan?.segments.some((own) => own.kind === 'move' && near(own.to)) === true ||
        sequence.cues.some(({ action }) => action.do === 'move' && action.axis === axis && near(action.value))
      );
    }),
  );

/** Six walks, one for each job that a machine is made of. */
export const WALKS: readonly Walk[] = [
  {
    id: 'axis',
    title: 'An axis',
    steps: [
      anAxis,
      {
        text: 'Say how far it may go: its travel. What leads beyond it is found from then on.',
        stage: 'build',
        part: 'axes',
        done: ({ machine }) => machine.axes.some(({ kind, travel }) => kind === 'rotary' || travel !== null),
      },
      aMove,
      {
        text: 'Type what it may do at most: the limit of its velocity, in Build.',
        stage: 'build',
        part: 'axes',
        done: ({ machine }) => machine.axes.some(({ limits }) => limits.velocity !== null),
      },
      {
        text: 'Look at its run: force, torque and power over the cycle, without an error.',
        stage: 'run',
        done: (state) => moves(state) && state.errors === 0,
      },
    ],
  },
  {
    id: 'mechanism',
    title: 'A mechanism',
    steps: [
      {
        text: 'Draw a bar: take the bar in the palette, press on the board and drag.',
        stage: 'build',
        part: 'board',
        done: ({ machine }) => machine.mechanism.bodies.length > 0,
      },
      {
        text: 'Tie one of its points to the ground with a ground pin.',
        stage: 'build',
        part: 'board',
        done: ({ machine }) => onGround(machine),
      },
      {
        text: 'Draw a second bar from a point of the first: it is pinned there by itself.',
        stage: 'build',
        part: 'board',
        done: ({ machine }) => machine.mechanism.bodies.length > 1 && between(machine),
      },
      {
        text: 'Choose the pin on the ground and press “Drive this joint”.',
        stage: 'build',
        part: 'board',
        done: ({ machine }) => machine.axes.some(({ joint }) => joint !== null),
      },
      {
        text: 'Tie what is left free, until mobility says that none is left; or let gravity and springs move it.',
        stage: 'build',
        part: 'board',
        done: ({ machine, remaining }) =>
          machine.axes.some(({ joint }) => joint !== null) &&
          (remaining === 0 || machine.mechanism.elements.length > 0),
      },
      {
        text: 'Choose a point that matters and trace it, under Traces and cams in Run.',
        stage: 'run',
        done: ({ machine }) => machine.mechanism.traces.length > 0,
      },
    ],
  },
  {
    id: 'space',
    title: 'Out of the plane',
    steps: [
      {
        text: 'Draw a bar and let it slide or turn on the ground; press “Drive this joint”.',
        stage: 'build',
        part: 'board',
        done: ({ machine }) => onGround(machine) && machine.axes.some(({ joint }) => joint !== null),
      },
      {
        text: 'Choose the bar and press “Plane on it”: what is drawn there rides on the bar.',
        stage: 'build',
        part: 'board',
        done: ({ machine }) => carried(machine).length > 0,
      },
      {
        text: 'Draw a second bar in that plane, let it slide or turn there, and drive it.',
        stage: 'build',
        part: 'board',
        done: ({ machine }) => {
          const planes = carried(machine).map(({ id }) => id);
          const riding = machine.mechanism.bodies.filter(({ plane }) => planes.includes(plane)).map(({ id }) => id);
          const driven = new Set(machine.axes.map(({ joint }) => joint));
          return machine.mechanism.joints.some(({ id, b }) => driven.has(id) && riding.includes(b.body));
        },
      },
      {
        text: 'In “Pose to pose” drag what moves to where it begins and mark that; then to where it ends.',
        stage: 'move',
        part: 'poses',
        done: ({ machine }) => (machine.poses?.length ?? 0) > 1,
      },
      {
        text: 'Write the way from one to the other as plans, or as cues, and look at it in depth in Run.',
        stage: 'move',
        part: 'poses',
        done: ({ machine, errors }) => (machine.poses?.length ?? 0) > 1 && errors === 0 && reachesMarks(machine),
      },
    ],
  },
  {
    id: 'motion',
    title: 'A motion',
    steps: [
      anAxis,
      aMove,
      {
        text: 'Put a dwell into it: a stretch in which it stands still.',
        stage: 'move',
        done: ({ machine }) => machine.axes.some(({ plan }) => plan.segments.some(({ kind }) => kind === 'dwell')),
      },
      {
        text: 'Hold laws against each other in “Laws and comparison”, and take another one than the first.',
        stage: 'move',
        part: 'laws',
        done: ({ machine }) =>
          new Set(
            machine.axes.flatMap(({ plan }) =>
              plan.segments.flatMap((segment) => (segment.kind === 'dwell' ? [] : [segment.law.id])),
            ),
          ).size > 1 || machine.axes.some(({ plan }) => plan.segments.some((s) => s.kind !== 'dwell' && s.law.id !== 'poly345')), // prettier-ignore
      },
      {
        text: 'Keep it to go back to: “Put this motion aside”, below the plan.',
        stage: 'move',
        done: ({ machine }) => machine.axes.some(({ alternatives }) => alternatives.length > 0),
      },
    ],
  },
  {
    id: 'waiting',
    title: 'A waiting machine',
    steps: [
      anAxis,
      {
        text: 'Add a cue: it moves the axis. From then on cues lead it.',
        stage: 'cue',
        part: 'sheet',
        done: ({ machine }) => machine.sequence.cues.length > 0 && machine.axes.some(({ motion }) => motion.source.kind === 'cues'), // prettier-ignore
      },
      {
        text: 'Add a second cue behind it: the way back.',
        stage: 'cue',
        part: 'sheet',
        done: ({ machine }) => machine.sequence.cues.some(({ after }) => after.length > 0),
      },
      {
        text: 'Add a sensor: a button that is pressed, or an eye that sees a part.',
        stage: 'cue',
        part: 'sensors',
        done: ({ machine }) => machine.sequence.sensors.length > 0,
      },
      {
        text: 'Let the first cue wait for it: write its name under When.',
        stage: 'cue',
        part: 'sheet',
        done: ({ machine }) => machine.sequence.cues.some(({ when }) => when !== null),
      },
      {
        text: 'Let the run end: after so many cycles, under Rules, or by a cue that stops the cycle.',
        stage: 'cue',
        part: 'rules',
        done: ({ machine, record }) =>
          machine.sequence.cues.length > 0 && record !== null && ['cycles', 'stop'].includes(record.end),
      },
    ],
  },
  {
    id: 'motor',
    title: 'A motor',
    steps: [
      anAxis,
      aMove,
      {
        text: 'Let a gearbox stand before it, with its ratio, in the drive train.',
        stage: 'build',
        part: 'axes',
        done: ({ machine }) => machine.axes.some(({ gearbox }) => gearbox !== null),
      },
      {
        text: 'See the catalogue ranked in Size, until at least one motor fits. Sweep the gear ratio if none does.',
        stage: 'size',
        done: (state) => moves(state) && (state.fitting?.length ?? 0) > 0,
      },
      {
        text: 'Choose one: its rotor is in the run from then on.',
        stage: 'size',
        done: ({ machine }) => machine.axes.some(({ sizing }) => sizing.motor !== null),
      },
      {
        text: 'See that the one chosen fits with its rotor.',
        stage: 'size',
        done: ({ machine, fitting }) =>
          machine.axes.some(({ sizing }) => sizing.motor !== null && (fitting?.includes(sizing.motor) ?? false)),
      },
    ],
  },
  {
    id: 'clearance',
    title: 'What comes too near',
    steps: [
      {
        text: 'Import a file of geometry, or add a box of your own; make a body of what moves, the rest is ground. The plug gantry has its solids already.',
        stage: 'build',
        part: 'solids',
        done: ({ machine: { mechanism } }) => allSolids(mechanism).some(({ carrier }) => carrier !== UNASSIGNED),
      },
      {
        text: 'In “Clearances” search all pairs; what touches by design is left out there. Press “Watch” at two that come near.',
        stage: 'run',
        done: ({ machine }) => watches(machine).length > 0,
      },
      {
        text: 'Type how far they must stay apart, 5 mm say: the run tells when they do not, and the curve leads there.',
        stage: 'run',
        done: ({ machine }) => watches(machine).some(({ least }) => least > 0.002),
      },
      {
        text: 'Mend it: press the solid that stands in the way and type another place, or take a newer file, until the run has no errors.',
        stage: 'build',
        part: 'solids',
        done: ({ machine, errors }) => watches(machine).some(({ least }) => least > 0.002) && errors === 0,
      },
    ],
  },
];

/** The first step of a walk that is not done; all of them where the walk is. */
export const stepAt = (walk: Walk, state: WalkState): number => {
  const at = walk.steps.findIndex((step) => !step.done(state));
  return at < 0 ? walk.steps.length : at;
};
