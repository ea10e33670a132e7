import {
  addBar,
  addJoint,
  addSolid,
  addPlane,
  bodyPoint,
  groundPoint,
  newAxis,
  newDrive,
  newMachine,
  type Machine,
} from '@yoke/core';
import { cue, cuedAxis, move, rises, sensor } from '../../../core/test/cycles';
import { STAGES } from './stages';
import { stepAt, WALKS, type WalkState } from './walks';

const walk = (id: string) => WALKS.find((one) => one.id === id)!;
const state = (machine: Machine, more: Partial<WalkState> = {}): WalkState => ({
  machine,
  remaining: null,
  record: null,
  errors: null,
  fitting: null,
  ...more,
});

test('seven walks, none done in an empty machine, each step on a stage there is', () => {
  expect(WALKS).toHaveLength(7);
  for (const { steps } of WALKS) {
    expect(steps[0]!.done(state(newMachine('Empty')))).toBe(false);
    for (const step of steps) {
      expect(STAGES.map(({ id }) => id)).toContain(step.stage);
      expect(step.done(state(newMachine('Empty')))).toBe(false);
    }
  }
});

test('the walk of an axis follows what is done, up to a run without errors', () => {
  const machine = newMachine('Axis');
  expect(stepAt(walk('axis'), state(machine))).toBe(0);
  const axis = newAxis('linear', [], 2);
  machine.axes.push(axis);
  axis.travel = null;
  expect(stepAt(walk('axis'), state(machine))).toBe(1);
  axis.travel = { min: 0, max: 1 };
  axis.limits.velocity = null;
  expect(stepAt(walk('axis'), state(machine))).toBe(3);
  axis.limits.velocity = 1;
  expect(stepAt(walk('axis'), state(machine, { errors: 2 }))).toBe(4);
  expect(stepAt(walk('axis'), state(machine, { errors: 0 }))).toBe(5);
});

test('the walk of a mechanism: bar, ground, second bar, drive, nothing left free, trace', () => {
  const machine = newMachine('Linkage');
  const m = machine.mechanism;
  const at = () => stepAt(walk('mechanism'), state(machine, { remaining: 0 }));
  const one = addBar(m, [0, 0], [0.1, 0]);
  expect(at()).toBe(1);
  const pin = addJoint(m, 'pin', groundPoint(m, [0, 0]), bodyPoint(m, one.id, [0, 0]));
  expect(at()).toBe(2);
  const two = addBar(m, [0.1, 0], [0.2, 0]);
  addJoint(m, 'pin', bodyPoint(m, one.id, [0.1, 0]), bodyPoint(m, two.id, [0.1, 0]));
  expect(at()).toBe(3);
  machine.axes.push(newDrive(machine, pin, 0, 0.1));
  expect(stepAt(walk('mechanism'), state(machine, { remaining: 1 }))).toBe(4);
  expect(at()).toBe(5);
  m.traces.push(bodyPoint(m, two.id, [0.2, 0]));
  expect(at()).toBe(6);
});

test('the walk of a waiting machine ends with a run that ends', () => {
  const machine = newMachine('Waiting');
  machine.axes.push(cuedAxis('x'));
  const at = (end: 'longest' | 'cycles' = 'longest') => stepAt(walk('waiting'), state(machine, { record: { end } }));
  expect(at()).toBe(1);
  machine.sequence.cues.push(cue('out', move('x', 0.1, 1)));
  expect(at()).toBe(2);
  machine.sequence.cues.push(cue('back', move('x', 0, 1), { after: ['out'] }));
  expect(at()).toBe(3);
  machine.sequence.sensors.push(sensor('s', { kind: 'button', presses: [{ at: 0.1, hold: 0.1 }] }));
  expect(at()).toBe(4);
  machine.sequence.cues[0]!.when = rises('s');
  expect(at()).toBe(5);
  expect(at('cycles')).toBe(6);
});

test('the walks of a motion and of a motor', () => {
  const machine = newMachine('Motion');
  const axis = newAxis('linear', [], 2);
  machine.axes.push(axis);
  axis.gearbox = null;
  const motion = () => stepAt(walk('motion'), state(machine));
  expect(motion()).toBe(3);
  const [first] = axis.plan.segments.filter(({ kind }) => kind !== 'dwell');
  if (first?.kind !== 'dwell') first!.law = { id: 'cycloidal' };
  expect(motion()).toBe(4);
  axis.alternatives.push({ id: 'm1', name: 'As it was', plan: axis.plan, motion: axis.motion });
  expect(motion()).toBe(5);
  const motor = (fitting: string[]) => stepAt(walk('motor'), state(machine, { fitting }));
  expect(motor(['A'])).toBe(2);
  axis.gearbox = { ratio: 5, inertia: 0, efficiency: 1, backEfficiency: 1, friction: 0 };
  expect(motor([])).toBe(3);
  expect(motor(['A'])).toBe(4);
  axis.sizing.motor = 'B';
  expect(motor(['A'])).toBe(5);
  axis.sizing.motor = 'A';
  expect(motor(['A'])).toBe(6);
});

test('the walk out of the plane goes from a first slide to a way between two marked poses', () => {
  const machine = newMachine('Gantry');
  const { mechanism: m } = machine;
  const at = () => stepAt(walk('space'), state(machine, { errors: 0 }));
  const bridge = addBar(m, [0, 0], [0.2, 0]);
  const slide = addJoint(m, 'slide', groundPoint(m, [0, 0]), bodyPoint(m, bridge.id, [0, 0]));
  expect(at()).toBe(0);
  machine.axes.push(newDrive(machine, slide, 0, 0.1));
  expect(at()).toBe(1);
  const plane = addPlane(m, { on: bridge.id });
  expect(at()).toBe(2);
  const lift = addBar(m, [0, 0], [0, 0.2], undefined, undefined, plane.id);
  const up = addJoint(m, 'slide', groundPoint(m, [0, 0], plane.id), bodyPoint(m, lift.id, [0, 0]), { direction: Math.PI / 2 }); // prettier-ignore
  machine.axes.push(newDrive(machine, up, 0, 0.1));
  expect(at()).toBe(3);
  const pose = (id: string, position: number) => ({ id, name: id, tool: null, at: [{ axis: machine.axes[1]!.id, position }] }); // prettier-ignore
  machine.poses = [pose('one', 0.01), pose('two', 0.0437)];
  expect(at()).toBe(4);
  machine.axes[1]!.plan.segments = [{ kind: 'move', id: 's1', duration: 1, to: 0.0437, law: { id: 'poly345' } }];
  expect(at()).toBe(5);
});

test('the walk of what comes too near goes from solids to a run without errors', () => {
  const machine = newMachine('Clearance');
  const at = (errors = 0) => stepAt(walk('clearance'), state(machine, { errors }));
  expect(at()).toBe(0);
  const box = { kind: 'box', x: 0.1, y: 0.1, z: 0.1 } as const;
  addSolid(machine.mechanism, 'ground', { name: 'Box', colour: null, shape: box, at: [0, 0, 0], turn: [1, 0, 0, 0], density: 7850 }); // prettier-ignore
  expect(at()).toBe(1);
  machine.clearances = { watches: [{ id: 'c1', name: 'Gap', a: ['ground'], b: ['body1'], least: 0.002, stop: true }], byDesign: [] }; // prettier-ignore
  expect(at()).toBe(2);
  machine.clearances.watches[0]!.least = 0.005;
  expect(at(1)).toBe(3);
  expect(at(0)).toBe(4);
});
