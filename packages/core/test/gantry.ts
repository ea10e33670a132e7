import type { Machine, MarkedPose } from '../src/machine';
import { demo } from './demos';

/** The gantry without its cues and parts, each axis at rest. */
export function bareGantry(): Machine {
  const machine = demo('plug-gantry');
  machine.sequence = { ...machine.sequence, cues: [], interlocks: [], sensors: [], monitors: [] };
  machine.sequence.cycle.starts = null;
  machine.sequence.emergency.when = null;
  machine.loose = { ...machine.loose, kinds: [], sources: [], sinks: [], grippers: [], belts: [], surfaces: [], solids: [], platforms: [] }; // prettier-ignore
  machine.step = 0.005;
  for (const axis of machine.axes) {
    axis.plan = { start: axis.home, segments: [] };
    axis.motion.source = { kind: 'plan' };
  }
  return machine;
}

/** A pose of some axes, the others at home. */
export function markedPose(machine: Machine, name: string, at: Record<string, number>): MarkedPose {
  const head = machine.mechanism.bodies.find((body) => body.name === 'Head')!;
  return {
    id: name,
    name,
    tool: { body: head.id, point: 'p1' },
    at: machine.axes.map((axis) => ({ axis: axis.id, position: at[axis.name] ?? axis.home })),
  };
}
