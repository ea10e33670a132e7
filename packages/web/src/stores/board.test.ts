import {
  addBar,
  addJoint,
  bodyPoint,
  groundPoint,
  newAxis,
  newMachine,
  type Machine,
  type MachineRun,
  type Mechanism,
  type KeptRun,
} from '@yoke/core';
import { createPinia, setActivePinia } from 'pinia';
import { api } from '@/api/client';
import { useBoard } from './board';
import { useCompare } from './compare';
import { useMachine } from './machine';
import { useRun } from './run';
import { useSeeing } from './seeing';

jest.mock('comlink', () => {
  const { runMachine }: { runMachine: (machine: Machine) => Promise<MachineRun> } = jest.requireActual('@yoke/core');
  return {
    proxy: <T>(callback: T): T => callback,
    wrap: () => ({
      setCatalogue: async () => undefined,
      run: (machine: Machine) =>
        machine.name === 'Stopped'
          ? new Promise(() => undefined)
          : runMachine(machine).then(({ findings, ...result }) => ({ key: '', from: 'computed', findings, result })),
      rank: async () => ({}),
    }),
  };
});
Reflect.deleteProperty(globalThis, 'BroadcastChannel');
Object.assign(globalThis, { Worker: jest.fn(() => ({ terminate: () => undefined })) });

/** A crank on the ground with a bar hung on it. */
function start(): Machine {
  const machine = newMachine('Test');
  machine.cycle = { given: 'time', time: 1 };
  const m = machine.mechanism;
  const crank = addBar(m, [0, 0], [0.1, 0], 'Crank');
  const bob = addBar(m, [0.1, 0], [0.1, -0.2], 'Bob');
  const pin = addJoint(m, 'pin', groundPoint(m, [0, 0]), bodyPoint(m, crank.id, [0, 0]), { name: 'Bearing' });
  addJoint(m, 'pin', bodyPoint(m, crank.id, [0.1, 0]), bodyPoint(m, bob.id, [0.1, 0]), { name: 'Eye' });
  addJoint(m, 'slot', groundPoint(m, [0.1, -0.2]), bodyPoint(m, bob.id, [0.1, -0.2]), {
    name: 'Slot',
    direction: -Math.PI / 2,
  });
  const axis = newAxis('rotary', [], 1);
  Object.assign(axis, { name: 'Crank drive', joint: pin.id, gearbox: null });
  axis.load.inertia = 0;
  axis.motion = {
    over: 'time',
    engage: null,
    level: 'position',
    source: { kind: 'harmonic', mean: 0, amplitude: 0.5, frequency: 1, phase: 0 },
    initial: { position: 0, velocity: 0 },
  };
  machine.axes.push(axis);
  m.traces.push({ body: crank.id, point: 'p2' });
  machine.variants = [
    { id: 'v1', name: 'Fast', speed: 2, gravity: false, loads: true, friction: true, off: [], changes: [], pairs: [] },
  ];
  return machine;
}
const runs: (KeptRun & { document: Machine })[] = [];

beforeEach(() => {
  jest.useFakeTimers();
  setActivePinia(createPinia());
  runs.length = 0;
  jest.spyOn(api, 'readMachine').mockImplementation(async () => ({ machine: start(), revision: 1 }));
  jest.spyOn(api, 'saveMachine').mockResolvedValue(2);
  jest.spyOn(api, 'listRuns').mockImplementation(async () => [...runs]);
  jest.spyOn(api, 'readRun').mockImplementation(async (_id, run) => runs.find(({ id }) => id === run)!.document);
  jest.spyOn(api, 'keepRun').mockImplementation(async (_id, { name, document, cycleTime }) => {
    const kept = { id: `run${runs.length + 1}`, name, revision: 1, cycleTime, createdAt: '', document };
    runs.push(kept);
    return kept;
  });
  jest.spyOn(api, 'forgetRun').mockImplementation(
    async (_id, id) =>
      void runs.splice(
        runs.findIndex((run) => run.id === id),
        1,
      ),
  );
});
afterEach(() => {
  jest.useRealTimers();
  jest.restoreAllMocks();
});

const settle = async () => {
  for (let i = 0; i < 5; i++) await jest.advanceTimersByTimeAsync(50);
};
async function opened() {
  const stores = {
    machine: useMachine(),
    board: useBoard(),
    results: useRun(),
    seeing: useSeeing(),
    compare: useCompare(),
  };
  await stores.machine.open('one');
  await settle();
  return stores;
}

describe('the drawing board', () => {
  test('an edit brings the drawing together: a longer crank takes along what hangs on it', async () => {
    const { board, machine } = await opened();
    expect(board.draw('length', (draft) => void (draft.mechanism.bodies[0]!.points[1]!.at = [0.12, 0]))).toBeNull();
    const bob = machine.document!.mechanism.bodies[1]!;
    expect(bob.pose.x).toBeCloseTo(0.12, 3);
    machine.undo();
    expect(machine.document).toEqual(start());
  });

  test('a drawing that cannot be brought together is kept as it was drawn, and said', async () => {
    const { board, machine } = await opened();
    board.draw('apart', (draft) => {
      draft.mechanism.ground[1]!.at = [0.9, 0];
      draft.mechanism.joints.push({
        kind: 'pin',
        id: 'far',
        name: 'Far',
        a: { body: 'ground', point: 'g2' },
        b: { body: 'body2', point: 'p2' },
        zero: 0,
        friction: { coulomb: 0, viscous: 0 },
      });
    });
    expect(machine.document!.mechanism.bodies[0]!.pose).toEqual(start().mechanism.bodies[0]!.pose);
    expect(board.prepared!.findings.map(({ code }) => code)).toContain('apart');
  });

  test('choosing, adding with Shift, and deleting with what hangs on it named', async () => {
    const { board, machine } = await opened();
    board.select('body1');
    expect(board.hangsOn.sort()).toEqual(['Bearing', 'Crank drive', 'Eye']);
    board.select('body2', true);
    board.select('body1', true);
    expect(board.selection).toEqual(['body2']);
    board.select('body1');
    board.remove();
    expect(machine.axes).toEqual([]);
    expect(board.message).toMatch(/^Deleted Crank, and with it .*Crank drive/);
    machine.undo();
    expect(machine.axes).toHaveLength(1);
  });

  test('what a sensor goes by is not deleted, and not said to be: the sensor is named, and undo is as before', async () => {
    const { board, machine } = await opened();
    const problem = machine.edit('an eye', (draft) => {
      draft.sequence.sensors.push({
        id: 's',
        name: 'Crank eye',
        hysteresis: 0,
        onDelay: 0,
        offDelay: 0,
        filter: 0,
        inverted: false,
        sensing: {
          kind: 'proximity',
          body: 'ground',
          from: [0, 0],
          to: [0, 1],
          distance: 0.01,
          bodies: ['body1'],
          parts: false,
          sees: [],
        },
      });
    });
    expect(problem).toBeNull();
    const { document, undoLabel } = machine;
    board.select('body1');
    board.remove();
    expect(board.message).toMatch(/^Not deleted: Crank eye goes by Crank .*Change or delete that first\.$/);
    expect([machine.document, machine.undoLabel, board.selection]).toEqual([document, undoLabel, ['body1']]);
    machine.edit('no eye', (draft) => void (draft.sequence.sensors = []));
    board.remove();
    expect(board.message).toMatch(/^Deleted Crank/);
  });

  test('a pose held by hand is apart from the document until it is made the start pose', async () => {
    const { board, machine } = await opened();
    const q = board.shownState()!;
    const before = board.poses[1]!;
    q[5] = q[5]! + 0.2;
    board.hand = q;
    expect(board.poses[1]!.angle).toBeCloseTo(before.angle + 0.2, 12);
    expect(machine.undoLabel).toBeNull();
    board.hand = null;
    expect(board.poses[1]).toEqual(before);
  });

  test('a unit is copied with its drive behind it in phase', async () => {
    const { board, machine } = await opened();
    board.copy(true, [0.5, 0], -Math.PI);
    expect(board.message).toMatch(/Choose a body/);
    board.select('body1');
    board.copy(true, [0.5, 0], -Math.PI);
    expect(machine.document!.mechanism.bodies).toHaveLength(4);
    expect(machine.axes[1]).toMatchObject({ motion: { source: { mean: -Math.PI } } });
    expect(board.selection).toHaveLength(2);
  });

  test('an edit that the document refuses is said and not made', async () => {
    const { board, machine } = await opened();
    const problem = board.draw('wrong', (draft) => void ((draft.mechanism as Mechanism).joints[0]!.name = ''));
    expect(problem).toContain('name must not be empty');
    expect(board.message).toBe(problem);
    expect(machine.undoLabel).toBeNull();
  });
});

describe('what is looked at', () => {
  test('plots begin with the drives and the traced point; a plot has one unit', async () => {
    const { seeing } = await opened();
    seeing.begin();
    expect(seeing.plots.map(({ channels }) => channels)).toEqual([['drive:axis1:effort'], ['point:body1.p2:v']]);
    const [first] = seeing.plots;
    expect(seeing.toggle(first!.id, 'point:body1.p2:a')).toMatch(/a plot of its own/);
    expect(seeing.plots.map(({ channels }) => channels.length)).toEqual([1, 1, 1]);
    seeing.remove(seeing.plots[2]!.id);
    expect(seeing.toggle(first!.id, 'joint:joint1:moment')).toBeNull();
    expect(seeing.plots[0]!.channels).toHaveLength(2);
    seeing.toggle(first!.id, 'joint:joint1:moment');
    expect(seeing.plots[0]!.channels).toHaveLength(1);
    seeing.remove(first!.id);
    expect(seeing.plots).toHaveLength(1);
    expect(seeing.samples('drive:axis1:effort')!.length).toBeGreaterThan(900);
  });
});

describe('comparing', () => {
  test('a variant follows the machine; twice the speed without gravity is four times the torque of inertia', async () => {
    const { board, compare, results, seeing } = await opened();
    board.draw('gravity off', (draft) => void (draft.mechanism.gravity.on = false));
    await settle();
    compare.toggle('variant:v1');
    await settle();
    const [entry] = compare.entries;
    const id = 'drive:axis1:effort';
    const own = seeing.samples(id)!;
    const other = compare.overlay(entry!, id, results.run!)!;
    expect(other).toHaveLength(own.length);
    for (let k = 10; k < own.length; k += 90) expect(other[k]! / 4).toBeCloseTo(own[k]!, 5);
    const before = entry!.run;
    board.draw('heavier', (draft) => void (draft.mechanism.bodies[0]!.thickness = 0.016));
    await settle();
    expect(compare.entries[0]!.run).not.toBe(before);
    compare.toggle('variant:v1');
    expect(compare.entries).toEqual([]);
  });

  test('a kept run stays as it was while the machine changes, and can be forgotten', async () => {
    const { board, compare, results } = await opened();
    await compare.keep('Before');
    compare.toggle('kept:run1');
    await settle();
    const peak = () => Math.max(...compare.entries[0]!.run!.mechanism!.drives[0]!.effort.map(Math.abs));
    const before = peak();
    board.draw('heavier', (draft) => void (draft.mechanism.bodies[0]!.thickness = 0.05));
    await settle();
    expect(peak()).toBe(before);
    expect(Math.max(...results.run!.mechanism!.drives[0]!.effort.map(Math.abs))).toBeGreaterThan(1.5 * before);
    await compare.forget('run1');
    expect(compare.kept).toEqual([]);
    expect(compare.entries).toEqual([]);
  });

  test('a server out of reach is said, and nothing is lost', async () => {
    const { compare } = await opened();
    jest.spyOn(api, 'readRun').mockImplementation(async (_id, run) => runs.find(({ id }) => id === run)!.document);
    jest.spyOn(api, 'keepRun').mockRejectedValue(new Error('The server cannot be reached.'));
    await compare.keep('Lost?');
    expect(compare.message).toBe('The server cannot be reached.');
    expect(compare.kept).toEqual([]);
  });
});

test('a run can be stopped: it is said, results before stay, and the next edit runs again', async () => {
  const { machine, results } = await opened();
  const before = results.run;
  machine.edit('name', (draft) => void (draft.name = 'Stopped'));
  await Promise.resolve();
  results.stop();
  await settle();
  expect(results.run).toBe(before);
  expect([results.failure, results.stale]).toEqual(['The run was stopped. Any edit starts it again.', true]);
  machine.edit('name', (draft) => void (draft.name = 'Going on'));
  await settle();
  expect([results.failure, results.stale]).toEqual([null, false]);
});
