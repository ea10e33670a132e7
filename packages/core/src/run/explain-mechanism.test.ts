import {
  addElement,
  addJoint,
  bodyPoint,
  groundPoint,
  newAxis,
  newMachine,
  addBar,
  addPath,
  addGuide,
  type Machine,
} from '../machine';
import { explainMechanismFinding, nameIn, type MechanismFinding } from './index';

function machineWithNames(): Machine {
  const machine = newMachine('Words');
  const m = machine.mechanism;
  const bar = addBar(m, [0, 0], [0.1, 0], 'Rocker');
  addBar(m, [0.1, 0], [0.2, 0], 'Coupler');
  const pin = addJoint(m, 'pin', groundPoint(m, [0, 0]), bodyPoint(m, bar.id, [0, 0]), { name: 'Pin C' });
  const path = addPath(
    m,
    'ground',
    { kind: 'chain', start: [0, 0], closed: false, pieces: [{ kind: 'line', to: [1, 0] }] },
    'Rail',
  );
  addGuide(m, path.id, { body: 'body2', point: 'p1' }, 'Guide 2');
  addElement(m, { kind: 'stop', joint: pin.id, min: null, max: 1, restitution: 0, name: 'Buffer' });
  const axis = { ...newAxis('rotary', [], 1), name: 'Crank drive', joint: pin.id };
  machine.axes.push(axis, { ...newAxis('linear', [axis], 1), name: 'Pusher', joint: 'joint2' });
  return machine;
}

/** Each finding, and what an engineer must read in it: the culprit, the size, and what to do. */
const CASES: [MechanismFinding, RegExp][] = [
  [{ code: 'broken', severity: 'error', text: 'Rail: no length.' }, /^Rail: no length\.$/],
  [
    { code: 'not-grounded', severity: 'error', bodies: ['body1'] },
    /^Rocker is not tied to the ground by any joint: add a pin/,
  ],
  [{ code: 'not-grounded', severity: 'error', bodies: ['body1', 'body2'] }, /^Rocker and Coupler are not tied/],
  [
    { code: 'apart', severity: 'error', gaps: [{ owner: 'joint1', measure: 'length', gap: 0.012 }] },
    /cannot be assembled: Pin C stays 12.mm apart\. Move/,
  ],
  [
    { code: 'apart', severity: 'error', gaps: [{ owner: 'joint1', measure: 'angle', gap: 0.1 }] },
    /5\.73.° apart|5\.73° apart/,
  ],
  [
    { code: 'redundant', severity: 'warning', owners: ['joint1', 'joint2'] },
    /^Pin C and Guide 2 say the same thing: one of them could be left out/,
  ],
  [
    { code: 'fighting', severity: 'error', owners: ['axis1', 'axis2'] },
    /^Crank drive and Pusher ask for the same freedom: take the drive off/,
  ],
  [
    { code: 'fighting', severity: 'error', owners: ['axis1', 'joint2'] },
    /^Crank drive drives a joint that cannot move: Guide 2 hold it/,
  ],
  [{ code: 'free', severity: 'info', count: 1, bodies: [['body1']] }, /^One freedom is not driven \(Rocker\)/],
  [
    { code: 'free', severity: 'info', count: 2, bodies: [['body1'], ['body2']] },
    /^2 freedoms are not driven \(Rocker and Coupler\)/,
  ],
  [{ code: 'no-mass', severity: 'error', bodies: ['body1'] }, /^Rocker has no mass, .* type a mass/],
  [
    { code: 'start-far', severity: 'error', axisId: 'axis1', wanted: 2, reached: 1.5 },
    /shall begin at 114\.6.?°, but the mechanism reaches only 85\.94.?°/,
  ],
  [
    { code: 'unreachable', severity: 'error', time: 0.2, axisId: 'axis1', position: 1, bodies: ['body2'] },
    /^At 0\.2.s Crank drive cannot go past 57\.3.?°: Coupler cannot follow\. The nearest pose/,
  ],
  [
    { code: 'unreachable', severity: 'error', time: 0.2, axisId: 'axis2', position: 0.05, bodies: [] },
    /cannot go past 50.mm\. The nearest/,
  ],
  [{ code: 'singular', severity: 'error', time: 0.5 }, /^At 0\.5.s the mechanism is in a dead position/],
  [{ code: 'stiff', severity: 'error', time: 0.5 }, /look for very stiff springs/],
  [
    { code: 'past-stop', severity: 'error', time: 0.1, id: 'element1', limit: 1, position: 1.2 },
    /leads past Buffer \(it stands at 57\.3.?°, the joint goes to 68\.75.?°\)/,
  ],
  [
    { code: 'past-end', severity: 'error', time: 0.1, id: 'joint2' },
    /Guide 2 runs off the end of Rail: lengthen the path/,
  ],
  [
    { code: 'lift-off', severity: 'error', id: 'joint2', from: 0.1, to: 0.2, force: -3, time: 0.15 },
    /loses contact from 0\.1.s to 0\.2.s: 3.N more would be needed at 0\.15.s\. Take a stronger spring/,
  ],
  [
    { code: 'undercut', severity: 'error', id: 'joint2', time: 0.1, radius: 0.004 },
    /larger than the hollow of its cam \(radius 4.mm\)/,
  ],
  [
    { code: 'indexer-radius', severity: 'error', id: 'joint1', radius: 0.04, wanted: 0.05 },
    /runs on a radius of 40.mm, .* needs 50.mm/,
  ],
  [
    { code: 'stops-hit', severity: 'info', id: 'element1', count: 3, time: 0.4 },
    /^Buffer is hit 3 times, first at 0\.4.s/,
  ],
];

test.each(CASES)('%j', (finding, words) => {
  const text = explainMechanismFinding(finding, machineWithNames());
  expect(text).toMatch(words);
  expect(text).toMatch(/[.)]$/);
});

test('in inches where the document is', () => {
  const machine = { ...machineWithNames(), units: 'inch' as const };
  expect(
    explainMechanismFinding({ code: 'undercut', severity: 'error', id: 'joint2', time: 0, radius: 0.0254 }, machine),
  ).toMatch(/radius 1.in/);
});

test('names of everything; what has none is called by its identifier', () => {
  const machine = machineWithNames();
  expect(['body1', 'joint1', 'element1', 'path1', 'axis1', 'ground', 'other'].map((id) => nameIn(machine, id))).toEqual([
    'Rocker', 'Pin C', 'Buffer', 'Rail', 'Crank drive', 'the ground', 'other',
  ]); // prettier-ignore
});
