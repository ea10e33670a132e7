import { mkdtempSync, readFileSync, writeFileSync } from 'node:fs';
import { spawnSync } from 'node:child_process';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { readCatalogue, readMachineText, runMachine, type Machine, type ToldFinding } from '@yoke/core';
import { demo, yoke } from '../test/yoke';

test('laws prints a line for each law', async () => {
  const { code, out } = await yoke('laws');
  expect(code).toBe(0);
  expect(out.split('\n')[0]).toBe('law,Cv,Ca,Cj');
  expect(out).toContain('cycloidal,2,6.283185307,39.4784176');
});

test('law prints as many points as wanted', async () => {
  const { out } = await yoke('law', 'modifiedSine', '--points', '5');
  expect(out.trim().split('\n')).toHaveLength(6);
  expect(out).toContain('tau,f,f1,f2,f3');
});

test('check says what is fine, and refuses what is not', async () => {
  expect(await yoke('check', demo('dibber.yoke.json'))).toMatchObject({ code: 0, err: '' });
  const document = JSON.parse(readFileSync(demo('dibber.yoke.json'), 'utf8'));
  document.axes[0].plan.segments[3].to = 0.012;
  const file = join(mkdtempSync(join(tmpdir(), 'yoke-cli-')), 'open.yoke.json');
  writeFileSync(file, JSON.stringify(document));
  const { code, out, err } = await yoke('check', file);
  expect([code, out]).toEqual([1, '']);
  expect(err).toMatch(/^yoke: .*Dibber: The plan does not close: it ends 12\u00a0mm above its start/);
  expect(err.trim().split('\n')).toHaveLength(1);
  // Said to run once, it is no error; nor is its table kept back.
  writeFileSync(file, JSON.stringify({ ...document, oneOff: true }));
  expect(await yoke('check', file)).toMatchObject({ code: 0, err: '' });
  const ran = await yoke('simulate', file);
  expect([ran.code, ran.err]).toEqual([0, '']);
});

test('simulate prints every channel', async () => {
  const { code, out } = await yoke('simulate', demo('pusher-and-lift.yoke.json'));
  expect(code).toBe(0);
  expect(out.split('\n')[0]).toMatch(/^t \[s\],Pusher\.position \[mm\],.*Lift\.motorPower \[W\]$/);
});

test('size ranks as JSON and as CSV', async () => {
  const { out } = await yoke('size', demo('pusher-and-lift.yoke.json'), '--axis', 'lift', '--json');
  const ranking = JSON.parse(out);
  expect(ranking).toHaveLength(30);
  expect(ranking[0]).toMatchObject({ rank: 1, fits: true });
  expect(ranking.at(-1).reason).toMatch(/^Fails because /);
  const { out: csv } = await yoke('size', demo('dibber.yoke.json'));
  expect(csv.trim().split('\n')).toHaveLength(31);
});

test.each([
  [['law', 'zigzag'], 'there is no law “zigzag”'],
  [['law', 'poly345', '--points', '1'], 'whole number from 2'],
  [['check', 'nowhere.yoke.json'], 'there is no such file'],
  [['check', demo('motors.csv')], 'is no JSON'],
  [['size', demo('pusher-and-lift.yoke.json')], 'choose one with --axis: Pusher, Lift'],
  [['size', demo('dibber.yoke.json'), '--axis', 'arm'], 'has no axis “arm”'],
  [['size', demo('dibber.yoke.json'), '--catalogue', demo('dibber.yoke.json')], 'Row 2 has 2 cells'],
  [['dance'], 'unknown command'],
])('%j exits 1 with a reason', async (args, reason) => {
  const { code, out, err } = await yoke(...args);
  expect([code, out]).toEqual([1, '']);
  expect(err).toContain(reason);
});

test('--help explains and exits 0', async () => {
  const { code, out } = await yoke('--help');
  expect(code).toBe(0);
  for (const command of ['laws', 'law', 'check', 'simulate', 'size', 'export']) expect(out).toContain(command);
});

test.each([
  ['csv', /^t \[s\],position \[mm\],velocity \[mm\/s\],acceleration \[mm\/s²\]\n/],
  ['json', /"format": "yoke-trajectory"/],
  ['st', /FUNCTION_BLOCK Shaker_Motion/],
  ['xml', /<FunctionBlock name="Shaker_Motion">/],
  ['cam', /^master \[°\],position \[mm\],slope \[mm\/°\]\n/],
])('export as %s', async (as, start) => {
  const file = demo('sowing-line.yoke.json');
  const { code, out } = await yoke('export', file, '--axis', 'Shaker', '--as', as, '--points', '25');
  expect(code).toBe(0);
  expect(out).toMatch(start);
  expect((await yoke('export', file, '--axis', 'Shaker', '--points', '90000')).err).toMatch(/20000 are allowed/);
});

const MECHANISMS = ['dosing-rocker', 'label-dabber', 'six-station-dial', 'plug-arm-twin', 'lifted-cover', 'rod-lift'];

test.each(MECHANISMS)('simulate and size work on the %s', async (name) => {
  const file = demo(`${name}.yoke.json`);
  expect((await yoke('check', file)).out).toMatch(/ bod(y|ies), .* no errors/);
  const { code, out } = await yoke('simulate', file);
  expect(code).toBe(0);
  const [header, first] = out.split('\n');
  expect(header).toMatch(/^t \[s\],.*(torque|force) into the mechanism \[/);
  expect(first!.split(',')).toHaveLength(header!.split(',').length);
  const axis = /"name": "([^"]+)",\n\s+"kind": "(?:linear|rotary)"/.exec(readFileSync(file, 'utf8'))![1]!;
  const ranking = await yoke('size', file, '--axis', axis);
  expect(ranking.code).toBe(0);
  expect(ranking.out.trim().split('\n').length).toBeGreaterThan(20);
});

test('a machine of planes on bodies is checked, and the motor of its lift ranked', async () => {
  const file = demo('plug-gantry.yoke.json');
  expect((await yoke('check', file)).out).toMatch(/Plug gantry, 8 bodies, 6 axes, no errors/);
  const ranking = JSON.parse((await yoke('size', file, '--axis', 'Lift', '--json')).out);
  expect(ranking[0]).toMatchObject({ rank: 1, fits: true });
});

test('a mechanism that cannot run is refused with what to do', async () => {
  const document = JSON.parse(readFileSync(demo('dosing-rocker.yoke.json'), 'utf8'));
  document.mechanism.bodies[2].points[1].at = [0.01, 0];
  const file = join(mkdtempSync(join(tmpdir(), 'yoke-cli-')), 'torn.yoke.json');
  writeFileSync(file, JSON.stringify(document));
  const { code, err } = await yoke('check', file);
  expect(code).toBe(1);
  expect(err).toMatch(/cannot be assembled|reaches only|cannot go past/);
});

test('a run beyond the budget is refused with what it would take, unless it is wanted anyway', async () => {
  const document = JSON.parse(readFileSync(demo('seed-chute.yoke.json'), 'utf8'));
  document.sequence.cycle.most = 86_400;
  document.loose.step = 0.001;
  const file = join(mkdtempSync(join(tmpdir(), 'yoke-cli-')), 'day.yoke.json');
  writeFileSync(file, JSON.stringify(document));
  const refused = await yoke('events', file);
  expect([refused.code, refused.out]).toEqual([1, '']);
  expect(refused.err).toMatch(
    /may take up to 86,400,000 steps of the contact computation .* Add --anyway to run it all the same\.\n$/,
  );
  for (const command of ['check', 'simulate']) expect((await yoke(command, file)).code).toBe(1);
  // A cue that might release 60,000 seeds in a second, and releases none: asked for, it runs.
  document.sequence.cycle.most = 1;
  document.sequence.cues = [
    {
      id: 'pour',
      name: 'Pour',
      on: true,
      after: [],
      join: 'all',
      choice: null,
      priority: 0,
      when: { op: 'time', at: 9 },
      delay: 0,
      times: 60_000,
      action: { do: 'release', source: document.loose.sources[0].id },
      timeOut: null,
    },
  ];
  document.loose.sources[0].release = { how: 'cue' };
  writeFileSync(file, JSON.stringify(document));
  expect((await yoke('events', file)).err).toMatch(/may take up to 60,000 loose parts/);
  expect(await yoke('events', file, '--anyway')).toMatchObject({ code: 0, err: '' });
});

test('a part whose corners cross is named in one line, with exit code 1', async () => {
  const document = JSON.parse(readFileSync(demo('seed-chute.yoke.json'), 'utf8'));
  document.loose.kinds[0].shape = {
    kind: 'outline',
    points: [
      [0, 0],
      [0.1, 0.1],
      [0.1, 0],
      [0, 0.1],
    ],
    as: 'exact',
    tolerance: 0,
  };
  document.loose.kinds[0].mass = { given: 'typed', mass: 0.001 };
  const file = join(mkdtempSync(join(tmpdir(), 'yoke-cli-')), 'crossed.yoke.json');
  writeFileSync(file, JSON.stringify(document));
  const { code, err } = await yoke('events', file);
  expect(code).toBe(1);
  expect(err).toBe(
    `yoke: The part “${document.loose.kinds[0].name}”: the outline crosses itself: move its corners apart.\n`,
  );
});

test('values that are no finite numbers are not written and not ranked', async () => {
  const document = JSON.parse(readFileSync(demo('dibber.yoke.json'), 'utf8'));
  document.axes[0].load.formula = '1 N / (t/T - t/T)';
  const file = join(mkdtempSync(join(tmpdir(), 'yoke-cli-')), 'infinite.yoke.json');
  writeFileSync(file, JSON.stringify(document));
  for (const command of ['check', 'simulate', 'size']) {
    const { code, out, err } = await yoke(command, file);
    expect([command, code, out]).toEqual([command, 1, '']);
    expect(err).toMatch(/finite/);
    expect(err.trim().split('\n')).toHaveLength(1);
  }
});

/** A demo changed and written to a file of its own. */
function changed(name: string, change: (document: Machine) => void): string {
  const document = JSON.parse(readFileSync(demo(name), 'utf8')) as Machine;
  change(document);
  const file = join(mkdtempSync(join(tmpdir(), 'yoke-cli-')), 'changed.yoke.json');
  writeFileSync(file, JSON.stringify(document));
  return file;
}

test.each([
  ['a formula with wrong units', 'sowing-line.yoke.json', 'Shaker', /a length is wanted/, (document: Machine) => {
    const axis = document.axes.find(({ name }) => name === 'Shaker')!;
    axis.motion = { ...axis.motion, over: 'time', source: { kind: 'formula', text: '3 mm * t' } };
  }],
  ['a linkage that gets stuck', 'dosing-rocker.yoke.json', undefined, /cannot go past/, (document: Machine) => {
    document.mechanism.bodies[2]!.points[1]!.at = [0.01, 0];
  }],
] as const)('%s stops size, export and simulate with exit code 1 and a sentence; --anyway insists', async (_what, demoName, axis, reason, change) => {
  const file = changed(demoName, change);
  const chosen = axis === undefined ? [] : ['--axis', axis];
  for (const command of [['size', file, ...chosen], ['export', file, ...chosen], ['simulate', file], ['check', file]]) {
    const { code, out, err } = await yoke(...command);
    expect([command[0], code, out]).toEqual([command[0], 1, '']);
    expect(err).toMatch(reason);
    expect(err.trim().split('\n')).toHaveLength(1);
  }
  const insisted = await yoke('export', file, ...chosen, '--anyway');
  expect(insisted.code).toBe(0);
  const listed = await yoke('check', file, '--json');
  expect(listed.code).toBe(1);
  const { findings } = JSON.parse(listed.out) as { findings: ToldFinding[] };
  expect(findings.filter(({ severity }) => severity === 'error').some(({ text }) => reason.test(text))).toBe(true);
}); // prettier-ignore

test('nothing is ranked by a linkage that got stuck, whoever insists', async () => {
  const file = changed('dosing-rocker.yoke.json', (document) => {
    document.mechanism.bodies[2]!.points[1]!.at = [0.01, 0];
  });
  const { code, out, err } = await yoke('size', file, '--anyway');
  expect([code, out]).toEqual([1, '']);
  expect(err).toMatch(/did not get through its cycle/);
});

test('the motor chosen counts in what is simulated, as on the page', async () => {
  const file = changed('dibber.yoke.json', (document) => void (document.axes[0]!.sizing.motor = 'Alder 1.3'));
  const { out } = await yoke('simulate', file);
  const [header, ...rows] = out
    .trim()
    .split('\n')
    .map((line) => line.split(','));
  const column = header!.findIndex((name) => name.startsWith('Dibber.motorTorque'));
  const read = readMachineText(readFileSync(file, 'utf8'));
  if (!read.ok) throw new Error('unreadable');
  const motors = readCatalogue(readFileSync(demo('motors.csv'), 'utf8'));
  const { run } = await runMachine(read.machine, { motors });
  const own = run.axes[0]!.channels;
  const most = own.motorTorque.reduce((sum, value) => Math.max(sum, Math.abs(value)), 0);
  rows.forEach((row, k) => expect(Math.abs(Number(row[column]) - own.motorTorque[k]!) / most).toBeLessThan(1e-8));
  expect(own.motorTorque.some((value, k) => Math.abs(value - own.shaftTorque[k]!) > 0.05 * most)).toBe(true);
});

/** A column of CSV by the start of its heading. */
function columnOf(csv: string, name: string): number[] {
  const [header, ...rows] = csv
    .trim()
    .split('\n')
    .map((line) => line.split(','));
  const at = header!.findIndex((cell) => cell.startsWith(name));
  return rows.map((row) => Number(row[at]));
}

test('a variant is run by its name: twice as fast, four times the acceleration', async () => {
  const file = demo('label-dabber.yoke.json');
  const most = (csv: string) => Math.max(...columnOf(csv, 'Dabber guide.acceleration').map(Math.abs));
  const plain = await yoke('simulate', file);
  const fast = await yoke('simulate', file, '--variant', 'twice as fast', '--anyway');
  expect([plain.code, fast.code]).toEqual([0, 0]);
  expect(most(fast.out) / most(plain.out)).toBeCloseTo(4, 2);
  const unknown = await yoke('size', file, '--variant', 'Backwards');
  expect([unknown.code, unknown.err]).toEqual([1, expect.stringContaining('has no variant “Backwards”; it has ')]);
});

test('a tool point is led: its way, what its axes must do, and the machine with their motions kept', async () => {
  const file = demo('watering-arm.yoke.json');
  const { code, out } = await yoke('lead', file);
  expect([code, out.split('\n')[0]]).toEqual([
    0,
    't [s],length along the path [mm],speed [mm/s],acceleration along [m/s²],acceleration across [m/s²],acceleration [m/s²],curvature [1/mm]',
  ]);
  const kept = join(mkdtempSync(join(tmpdir(), 'yoke-cli-')), 'kept.yoke.json');
  const rows = await yoke('lead', file, '--axis', 'Shoulder drive', '--keep', kept);
  expect(rows.out.split('\n')[0]).toBe('t [s],position [°],velocity [°/s],acceleration [°/s²]');
  // The machine written moves its axis as the table says.
  const again = await yoke('simulate', kept, '--anyway');
  expect(again.code).toBe(0);
  const [asked, made] = [columnOf(rows.out, 'position'), columnOf(again.out, 'Shoulder drive.position')];
  expect(Math.max(...made)).toBeCloseTo(Math.max(...asked), 2);
  expect(Math.min(...made)).toBeCloseTo(Math.min(...asked), 2);
  expect((await yoke('lead', demo('dibber.yoke.json'))).err).toMatch(/has no led tool point yet/);
  const sharp = changed('watering-arm.yoke.json', (document) => void (document.leads[0]!.blend = 0));
  const refused = await yoke('lead', sharp);
  expect([refused.code, refused.out, refused.err]).toEqual([
    1,
    '',
    expect.stringMatching(/jumps at [\d.]+ mm.* Add --anyway/),
  ]);
  expect((await yoke('lead', sharp, '--anyway')).code).toBe(0);
  expect((await yoke('lead', file, '--keep', '/nowhere/at/all.json')).err).toMatch(/there is no such folder/);
});

test('loose parts alone are simulated: their ways are written', async () => {
  const { code, out } = await yoke('simulate', demo('seed-chute.yoke.json'));
  const lines = out.trim().split('\n');
  expect([code, lines[0]]).toEqual([0, 't [s],part,kind,x [mm],y [mm],angle [°]']);
  expect(lines.length).toBeGreaterThan(1000);
  expect((await yoke('parts', demo('dibber.yoke.json'))).err).toMatch(/no loose part is released/);
});

test('the built program runs a cycle with parts, and a reader that has had enough is no crash', () => {
  const program = join(__dirname, '../bin/yoke.mjs');
  const run = (command: string) => spawnSync('bash', ['-o', 'pipefail', '-c', command], { encoding: 'utf8' });
  const checked = run(`node ${program} check ${demo('seed-chute.yoke.json')}`);
  expect([checked.status, checked.stderr]).toEqual([0, '']);
  const cut = run(`node ${program} simulate ${demo('sowing-line.yoke.json')} | head -n 1`);
  expect([cut.stderr, cut.stdout.split('\n').length]).toEqual(['', 2]);
});
