import { everySamples, addBar, addJoint, addPlane, bodyPoint, groundPoint, loadContact, mechanismSamples, newMachine, runMachine, type Machine, type PartSource } from '..'; // prettier-ignore
import { cue, cuedAxis, move, sensor } from '../../test/cycles';
import { kindOf, pairOf } from '../../test/space-scene';
import { weigh } from '../../test/mechanisms';

const g = 9.80665;
beforeAll(() => loadContact({ loose: { space: true } }));

const source = (at: [number, number], own: Partial<PartSource> = {}): PartSource => ({
  id: 'in',
  name: 'In',
  kind: 'part',
  body: 'ground',
  at,
  angle: 0,
  velocity: [0, 0],
  release: { how: 'times', times: [0] },
  scatter: { time: 0, place: 0, angle: 0 },
  ...own,
});

/** A machine whose parts move in space, with one source. */
function inSpace(own: Partial<Machine['loose']>, most = 1): Machine {
  const machine = newMachine('Space');
  machine.cycle = { given: 'time', time: most };
  machine.loose = {
    ...machine.loose,
    space: true,
    step: 0.001,
    materials: [
      { id: 'm', name: 'one' },
      { id: 'n', name: 'other' },
    ],
    pairs: pairOf(0.5),
    kinds: [kindOf({ kind: 'ball', radius: 0.02 })],
    sources: [source([0, 1])],
    ...own,
  };
  machine.sequence.cycle.most = most;
  return machine;
}
const beam = (id: string, y: number, level: number) =>
  sensor(id, { kind: 'beam', body: 'ground', from: [-0.2, y], to: [0.2, y], level, sees: [] });

describe('sensors in space', () => {
  // Free fall: the lower edge of the ball passes a height h below it after √(2h/g).
  test('a beam sees what crosses it at its own depth, at the time of the closed form', async () => {
    const machine = inSpace({});
    machine.sequence.sensors.push(beam('mid', 0.6, 0.005), beam('far', 0.6, 0.05));
    const { record } = await runMachine(machine);
    const changes = (id: string) => record!.signals.find((own) => own.sensor === id)!.times.slice(1);
    // The beam passes the ball 5 mm beside its middle.
    const half = Math.sqrt(0.02 ** 2 - 0.005 ** 2);
    const times = changes('mid');
    expect(times).toHaveLength(2);
    expect(Math.abs(times[0]! - Math.sqrt((2 * (0.4 - half)) / g))).toBeLessThan(2e-5);
    expect(Math.abs(times[1]! - Math.sqrt((2 * (0.4 + half)) / g))).toBeLessThan(2e-5);
    expect(changes('far')).toHaveLength(0);
  });

  test('a volume sees within its width, a beam across the plane what a flat one sees along it', async () => {
    const machine = inSpace({ sources: [source([0, 1], { level: 0.08 })] });
    machine.sequence.sensors.push(
      sensor('wide', { kind: 'area', body: 'ground', from: [-0.1, 0.5], to: [0.1, 0.6], width: 0.13, sees: [] }),
      sensor('slim', { kind: 'area', body: 'ground', from: [-0.1, 0.5], to: [0.1, 0.6], width: 0.11, sees: [] }),
      sensor('across', {
        kind: 'beam',
        body: 'ground',
        from: [0, 0.6],
        to: [0, 0.6],
        level: -0.3,
        toLevel: 0.3,
        sees: [],
      }),
    );
    const { record } = await runMachine(machine);
    const times = (id: string) => record!.signals.find((own) => own.sensor === id)!.times.slice(1);
    // 80 − 20 mm: within 65, not within 55.
    expect(times('wide')).toHaveLength(2);
    expect(times('slim')).toHaveLength(0);
    expect(Math.abs(times('across')[0]! - Math.sqrt((2 * 0.38) / g))).toBeLessThan(2e-5);
  });

  // A rod on one end tips over: until its tilt passes the bound it stands upright, later it lies.
  test('an area tells what stands upright from what lies, at the tilt that it says', async () => {
    const rod = kindOf({ kind: 'box', width: 0.02, height: 0.12, depth: 0.06 });
    const machine = inSpace({
      kinds: [rod],
      sources: [source([0, 0.0601], { angle: -0.2 })],
      surfaces: [
        {
          id: 'f',
          name: 'Floor',
          body: 'ground',
          material: 'm',
          line: [
            [-1, 0],
            [1, 0],
          ],
          thickness: 0.05,
          width: 2,
        },
      ],
    });
    const area = (id: string, own: object) =>
      sensor(id, { kind: 'area', body: 'ground', from: [-0.3, 0], to: [0.3, 0.3], width: 0.4, sees: [], ...own });
    machine.sequence.sensors.push(
      area('up', { stands: 'upright', within: 0.5 }),
      area('down', { stands: 'lying', within: 0.1 }),
      area('over', { stands: 'over' }),
      area('any', {}),
    );
    const { record, run } = await runMachine(machine);
    const signal = (id: string) => record!.signals.find((own) => own.sensor === id)!.times;
    expect(signal('any')).toHaveLength(2);
    expect(signal('over')).toHaveLength(1);
    const [, , gone] = signal('up');
    const tilt = everySamples(machine, { run, record }, 'part:0:tilt')!;
    // The way of the part is kept in frames, straight between them.
    const k = run.times.findIndex((time) => time >= gone!);
    expect(tilt[k]!).toBeCloseTo(0.5, 1);
    const lies = signal('down').at(-1)!;
    expect(lies).toBeGreaterThan(gone!);
    expect(tilt.at(-1)!).toBeCloseTo(Math.PI / 2, 2);
  });

  test('a sink takes what comes into its depth; what falls beside it is told', async () => {
    const sink = { id: 'k', name: 'Box', from: [-0.1, 0], to: [0.1, 0.2], width: 0.1, counts: 'done' } as const;
    for (const [level, taken] of [
      [0.04, true],
      [0.06, false],
    ] as const) {
      const machine = inSpace({
        sources: [source([0, 1], { level })],
        sinks: [{ ...sink, from: [-0.1, 0], to: [0.1, 0.2] }],
      });
      const { record, findings } = await runMachine(machine);
      expect(record!.fates[0]!.sink).toBe(taken ? 'k' : null);
      if (taken) expect(Math.abs(record!.fates[0]!.gone! - Math.sqrt((2 * 0.8) / g))).toBeLessThan(2e-5);
      expect(findings.some(({ code }) => code === 'left')).toBe(!taken);
    }
  });
});

/** A plate of 3 kg that is lifted by an axis, and touches parts. */
function lift(): Machine {
  const machine = inSpace({
    kinds: [kindOf({ kind: 'box', width: 0.06, height: 0.04, depth: 0.05 }, { given: 'typed', mass: 2 })],
  });
  const m = machine.mechanism;
  const plate = weigh(addBar(m, [-0.15, 0], [0.15, 0], 'Plate'), 3, [0.15, 0], 0.02);
  plate.thickness = 0.4;
  if (plate.shape.kind === 'bar') plate.shape.width = 0.02;
  const rail = addJoint(m, 'slide', groundPoint(m, [0, 0]), bodyPoint(m, plate.id, [0, 0]), {
    direction: Math.PI / 2,
  });
  machine.axes.push(cuedAxis('x', { joint: rail.id, load: { ...cuedAxis('x').load, inertia: 0 } }));
  machine.loose.solids = [{ body: plate.id, material: 'm', as: 'hull' }];
  machine.loose.sources = [source([0.05, 0.0305], { level: 0.1 })];
  return machine;
}
const late = (machine: Machine, run: Awaited<ReturnType<typeof runMachine>>['run'], id: string) => {
  const samples = mechanismSamples(machine, run, id)!;
  const from = run.times.findIndex((time) => time > 0.7 * run.cycleTime);
  return samples.slice(from).reduce((sum, value) => sum + value, 0) / (samples.length - from);
};

describe('what parts in space do to a mechanism', () => {
  // Statics: the weight on the plate, and where it lies: 50 mm along x, 100 mm along z.
  test('a part on a lift loads the drive, and the rail with moments about two axes', async () => {
    const machine = lift();
    const { run } = await runMachine(machine);
    const effort = run.axes[0]!.channels.effort;
    expect(effort.at(-1)!).toBeCloseTo(5 * g, 1);
    const rail = machine.mechanism.joints[0]!.id;
    expect(Math.abs(late(machine, run, `joint:${rail}:moment`))).toBeCloseTo(2 * g * 0.05, 1);
    // In the frame of the rail: about it, about the line across it, about the normal of the plane.
    const moments = [1, 2, 3].map((k) => Math.abs(late(machine, run, `bearing:${rail}:moment${k}`)));
    expect(moments[0]!).toBeLessThan(0.02);
    expect(moments[1]!).toBeCloseTo(2 * g * 0.1, 1);
    expect(moments[2]!).toBeCloseTo(2 * g * 0.05, 1);
  });

  // Newton: a lift that is accelerated carries m (g + a).
  test('while it is accelerated it carries more, and the power balances', async () => {
    const machine = lift();
    machine.sequence.cues = [
      cue('wait', { do: 'wait', time: 0.3 }),
      cue('up', move('x', 0.1, 0.5), { after: ['wait'] }),
    ];
    const { run } = await runMachine(machine);
    const { effort, acceleration } = run.axes[0]!.channels;
    run.times.forEach((time, k) => {
      if (time > 0.35 && time < 0.75) expect(Math.abs(effort[k]! - 5 * (g + acceleration[k]!))).toBeLessThan(1.5);
    });
    const { residual, drives } = run.mechanism!.energy;
    expect(Math.max(...residual.map(Math.abs))).toBeLessThan(1e-6 * Math.max(...drives.map(Math.abs)));
  });

  test('a gate that opens sideways lets a part fall, when its cue has moved it', async () => {
    const machine = inSpace(
      { kinds: [kindOf({ kind: 'box', width: 0.06, height: 0.04, depth: 0.05 }, { given: 'typed', mass: 0.3 })] },
      2,
    );
    const m = machine.mechanism;
    // Seen from above: x to the right, y to the back.
    const top = addPlane(m, { name: 'Top', turn: [Math.SQRT1_2, -Math.SQRT1_2, 0, 0] });
    const gate = weigh(addBar(m, [-0.1, 0], [0.1, 0], 'Gate', null, top.id), 1, [0.1, 0], 0.01);
    if (gate.shape.kind === 'bar') gate.shape.width = 0.1;
    gate.thickness = 0.01;
    const rail = addJoint(m, 'slide', groundPoint(m, [0, 0], top.id), bodyPoint(m, gate.id, [0, 0]), {
      direction: Math.PI / 2,
    });
    machine.axes.push(cuedAxis('x', { joint: rail.id }));
    machine.loose.solids = [{ body: gate.id, material: 'm', as: 'hull' }];
    machine.loose.pairs = pairOf(0.05);
    machine.loose.sources = [source([0, 0.026])];
    machine.sequence.sensors.push(beam('below', -0.3, 0));
    machine.sequence.cues = [
      cue('wait', { do: 'wait', time: 0.5 }),
      cue('open', move('x', 0.3, 0.1), { after: ['wait'] }),
    ];
    const { record } = await runMachine(machine);
    const [fell] = record!.signals.find((own) => own.sensor === 'below')!.times.slice(1);
    // It slides off while the gate opens, then falls 0.3 m.
    expect(fell!).toBeGreaterThan(0.5 + Math.sqrt((2 * 0.25) / g));
    expect(fell!).toBeLessThan(0.62 + Math.sqrt((2 * 0.31) / g));
  });
});

/** A lift whose fingers close on a box of 0.5 kg between them, and carry it up 0.2 m in 0.3 s. */
function picking(force: number): Machine {
  const machine = inSpace(
    { kinds: [kindOf({ kind: 'box', width: 0.05, height: 0.05, depth: 0.05 })], sources: [source([0, 0.0501])] },
    1.5,
  );
  const m = machine.mechanism;
  const hand = weigh(addBar(m, [-0.05, 0.12], [0.05, 0.12], 'Hand'), 1, [0.05, 0], 0.01);
  const rail = addJoint(m, 'slide', groundPoint(m, [0, 0.12]), bodyPoint(m, hand.id, [0, 0.12]), {
    direction: Math.PI / 2,
  });
  machine.axes.push(cuedAxis('x', { joint: rail.id, load: { ...cuedAxis('x').load, inertia: 0 } }));
  machine.loose.pairs = pairOf(0.4);
  // A foot from which the box is lifted.
  machine.loose.surfaces = [
    {
      id: 'f',
      name: 'Foot',
      body: 'ground',
      material: 'm',
      line: [
        [-0.1, 0.025],
        [0.1, 0.025],
      ],
      thickness: 0.01,
      width: 0.2,
    },
  ];
  machine.loose.grippers = [
    {
      id: 'g',
      name: 'Fingers',
      body: hand.id,
      at: [0.05, -0.07],
      reach: 0.01,
      force: 1,
      kinds: [],
      fingers: { angle: 0, gap: 0.06, height: 0.03, width: 0.03, force, speed: 0.1, material: 'm' },
    },
  ];
  machine.sequence.cues = [
    cue('settle', { do: 'wait', time: 0.1 }),
    cue('take', { do: 'take', gripper: 'g' }, { after: ['settle'] }),
    cue('firm', { do: 'wait', time: 0.1 }, { after: ['take'] }),
    cue('up', move('x', 0.2, 0.3), { after: ['firm'] }),
  ];
  return machine;
}

describe('fingers in a cycle', () => {
  // Statics and Newton: 2 μ F = m (g + a); poly345 accelerates by 5.7735 s/T² at most (VDI 2143).
  const accelerated = 0.5 * (g + (5.7735 * 0.2) / 0.09);
  test('press hard enough they lift a part without a slip, and the drive carries it', async () => {
    const machine = picking((1.2 * accelerated) / 0.8);
    const { run, record, findings } = await runMachine(machine);
    expect(record!.events.filter(({ kind }) => kind === 'took')).toHaveLength(1);
    expect(findings.filter(({ code }) => ['slips', 'lost'].includes(code))).toEqual([]);
    expect(run.axes[0]!.channels.effort.at(-1)!).toBeCloseTo(1.5 * g, 1);
    const most = run.axes[0]!.channels.effort.reduce((all, value) => Math.max(all, value), 0);
    expect(most / (1.5 * (g + (5.7735 * 0.2) / 0.09))).toBeCloseTo(1, 1);
    const last = record!.parts.data.subarray(record!.parts.starts.at(-2)!);
    expect(last[2]!).toBeCloseTo(0.25, 2);
  });

  test('pressed too lightly for its acceleration a part slips, and it is said', async () => {
    const machine = picking((0.8 * accelerated) / 0.8);
    const { record, findings } = await runMachine(machine);
    expect(findings.map(({ code }) => code)).toContain('slips');
    const [slip] = record!.events.filter(({ kind }) => kind === 'slips');
    const [up] = record!.events.filter(({ kind, subject }) => kind === 'acts' && subject === 'up');
    // While it is accelerated upwards, which is the first half of the move.
    expect(slip!.time).toBeGreaterThan(up!.time);
    expect(slip!.time).toBeLessThan(up!.time + 0.15);
  });
});

describe('sources', () => {
  test('give so many a minute, evenly', async () => {
    const machine = inSpace({
      sources: [source([0, 1], { release: { how: 'flow', first: 0.1, perMinute: 300, arrive: 'evenly', count: 4 } })],
    });
    const { record } = await runMachine(machine);
    expect(record!.fates.map(({ born }) => Number(born.toFixed(9)))).toEqual([0.1, 0.3, 0.5, 0.7]);
  });

  // Poisson arrivals: gaps are exponential, their mean and their standard deviation are the same.
  test('give so many a minute at random', async () => {
    const machine = inSpace(
      {
        sources: [
          source([0, 0.5], {
            velocity: [0, -10],
            release: { how: 'flow', first: 0, perMinute: 600, arrive: 'randomly', count: null },
          }),
        ],
      },
      40,
    );
    machine.loose.step = 0.01;
    const { record } = await runMachine(machine);
    const born = record!.fates.map((fate) => fate.born);
    const gaps = born.slice(1).map((time, i) => time - born[i]!);
    const mean = gaps.reduce((sum, gap) => sum + gap, 0) / gaps.length;
    const spread = Math.sqrt(gaps.reduce((sum, gap) => sum + (gap - mean) ** 2, 0) / gaps.length);
    expect(gaps.length).toBeGreaterThan(300);
    expect(Math.abs(mean / 0.1 - 1)).toBeLessThan(0.15);
    expect(Math.abs(spread / mean - 1)).toBeLessThan(0.2);
  });

  test('give rows at once, turned as they say', async () => {
    const pattern = { alongX: 3, alongY: 1, across: 2, pitchX: 0.1, pitchY: 0, pitchAcross: 0.2 };
    const machine = inSpace({
      kinds: [kindOf({ kind: 'capsule', radius: 0.01, length: 0.06 })],
      sources: [source([0, 1], { level: -0.1, tilt: Math.PI / 2, pattern })],
    });
    const { record } = await runMachine(machine);
    const first = record!.parts.data.subarray(0, 6 * 8);
    const places = Array.from({ length: 6 }, (_, i) =>
      [first[8 * i + 1]!, first[8 * i + 3]!].map((part) => Number(part.toFixed(3))),
    );
    expect(places).toEqual([
      [0, -0.1],
      [0.1, -0.1],
      [0.2, -0.1],
      [0, 0.1],
      [0.1, 0.1],
      [0.2, 0.1],
    ]);
    // Tilted about x its own axis lies across the plane.
    expect(Math.abs(first[5]!)).toBeCloseTo(Math.SQRT1_2, 3);
  });
});

test('the same seed gives the same run to the bit', async () => {
  const scattered = () =>
    inSpace({
      sources: [
        source([0, 0.5], {
          release: { how: 'interval', first: 0, interval: 0.1, count: 8 },
          scatter: { time: 0.01, place: 0.02, angle: 1 },
        }),
      ],
      surfaces: [
        {
          id: 'f',
          name: 'Floor',
          body: 'ground',
          material: 'm',
          line: [
            [-1, 0],
            [1, 0],
          ],
          thickness: 0.05,
          width: 2,
        },
      ],
      kinds: [kindOf({ kind: 'capsule', radius: 0.015, length: 0.06 })],
    });
  const [one, other] = [await runMachine(scattered()), await runMachine(scattered())];
  expect(one.record!.fates).toHaveLength(8);
  expect(Array.from(other.record!.parts.data)).toEqual(Array.from(one.record!.parts.data));
});
