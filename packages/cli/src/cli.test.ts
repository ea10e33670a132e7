import { mkdtempSync, readFileSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { main } from './main';

const demo = (name: string) => join(__dirname, '../../../demo', name);

async function yoke(...args: string[]) {
  let out = '';
  let err = '';
  const code = await main(['node', 'yoke', ...args], {
    out: (text) => (out += text),
    err: (text) => (err += text),
  });
  return { code, out, err };
}

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
});

test('simulate prints every channel', async () => {
  const { code, out } = await yoke('simulate', demo('pusher-and-lift.yoke.json'));
  expect(code).toBe(0);
  expect(out.split('\n')[0]).toMatch(/^t \[s\],Pusher\.position \[mm\],.*Lift\.motorPower \[W\]$/);
});

test('size ranks as JSON and as CSV', async () => {
  const { out } = await yoke('size', demo('pusher-and-lift.yoke.json'), '--axis', 'lift', '--json');
  const ranking = JSON.parse(out);
  expect(ranking).toHaveLength(26);
  expect(ranking[0]).toMatchObject({ rank: 1, fits: true });
  expect(ranking.at(-1).reason).toMatch(/^Fails because /);
  const { out: csv } = await yoke('size', demo('dibber.yoke.json'));
  expect(csv.trim().split('\n')).toHaveLength(27);
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

const MECHANISMS = ['dosing-rocker', 'label-dabber', 'six-station-dial', 'plug-arm-twin', 'lifted-cover'];

test.each(MECHANISMS)('simulate and size work on the %s', async (name) => {
  const file = demo(`${name}.yoke.json`);
  expect((await yoke('check', file)).out).toMatch(/ bodies, .* no errors/);
  const { code, out } = await yoke('simulate', file);
  expect(code).toBe(0);
  const [header, first] = out.split('\n');
  expect(header).toMatch(/^t \[s\],.*drive (torque|force) \[/);
  expect(first!.split(',')).toHaveLength(header!.split(',').length);
  const axis = /"name": "([^"]+)",\n\s+"kind": "(?:linear|rotary)"/.exec(readFileSync(file, 'utf8'))![1]!;
  const ranking = await yoke('size', file, '--axis', axis);
  expect(ranking.code).toBe(0);
  expect(ranking.out.trim().split('\n').length).toBeGreaterThan(20);
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
