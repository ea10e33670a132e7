import { loadContact } from '../contact';
import { newAxis, type Machine } from '../machine';
import { simulate } from '../run';
import { beltLine, onRail, sheetOf } from '../../test/cycles';
import {
  compareMotions,
  confirmProposals,
  judgeCandidate,
  motionOptions,
  planCandidates,
  runMachine,
  type ProposalTask,
} from './index';

beforeAll(() => loadContact());

/** A plate on a rail that a planned axis leads, and that pushes a box of 2 kg along the floor. */
function pushing(): Machine {
  const loose = beltLine(0.3, [0.01]);
  loose.belts = [];
  loose.kinds[0]!.mass = { given: 'typed', mass: 2 };
  loose.materials.push({ id: 'steel', name: 'steel' });
  loose.pairs.push({ id: 'q', a: 'steel', b: 'card', friction: 0, restitution: 0 });
  loose.surfaces = [{ id: 'f', name: 'Floor', body: 'ground', material: 'rubber', line: [[-1, 0], [2, 0]], thickness: 0.05 }]; // prettier-ignore
  loose.sources[0]!.velocity = [0, 0];
  loose.solids = [{ body: 'b', material: 'steel', as: 'exact' }];
  const axis = newAxis('linear', [], 2);
  axis.joint = 'j';
  axis.travel = { min: -1, max: 1 };
  axis.plan = {
    start: 0,
    segments: [
      { kind: 'move', id: 'out', duration: 1.2, to: 0.4, law: { id: 'cycloidal' } },
      { kind: 'move', id: 'back', duration: 0.8, to: 0, law: { id: 'cycloidal' } },
    ],
  };
  const machine = sheetOf([], { cycle: { starts: null, cycles: null, most: 2 } }, { loose, axes: [axis] });
  machine.cycle = { given: 'time', time: 2 };
  const outline: [number, number][] = [[-0.02, -0.008], [0, -0.008], [0, 0.008], [-0.02, 0.008]]; // prettier-ignore
  onRail(machine, -0.1, 0.01, { kind: 'plate', outline, holes: [] }, -0.2, 0.1);
  return machine;
}
const largest = (values: Float64Array) => values.reduce((most, value) => Math.max(most, Math.abs(value)), 0);

test('motions are compared by what the run shows, the parts that the axis pushes among it', async () => {
  const machine = pushing();
  const axis = machine.axes[0]!;
  const [now] = await compareMotions(machine, axis.id, motionOptions(axis, []));
  const { run } = await runMachine(machine);
  expect(now!.peaks.torque).toBe(largest(run.axes[0]!.channels.motorTorque));
  expect(now!.rmsTorque).toBe(run.axes[0]!.rms.motorTorque);
  // Without its cycle the plate would push nothing.
  expect(now!.peaks.torque).toBeGreaterThan(1.5 * largest(simulate(machine).axes[0]!.channels.motorTorque));
});

test('what is proposed costs what the run shows once it is taken', async () => {
  const machine = pushing();
  const axis = machine.axes[0]!;
  const task: ProposalTask = { axisId: axis.id, goal: 'peak', oscillator: null, motor: null };
  const candidates = planCandidates(axis, 'peak').filter((_, i) => i % 97 === 0);
  const judged = candidates.flatMap((candidate) => judgeCandidate(machine, task, candidate) ?? []);
  const { now, list } = await confirmProposals(machine, task, judged);
  const runs = await Promise.all(
    [axis.plan, ...list.map(({ plan }) => plan)].map((plan) => runMachine({ ...machine, axes: [{ ...axis, plan }] })),
  );
  const shown = runs.map(({ run }) => [largest(run.axes[0]!.channels.motorTorque), run.axes[0]!.rms.motorTorque]);
  expect([now, ...list.map(({ price }) => price)].map((price) => [price.peakTorque, price.rmsTorque])).toEqual(shown);
  const peaks = list.map(({ price }) => price.peakTorque);
  expect(peaks).toEqual([...peaks].sort((a, b) => a - b));
});
