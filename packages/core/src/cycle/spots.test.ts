import { readFileSync } from 'node:fs';
import { join } from 'node:path';
import { loadContact } from '../contact';
import { readMachineText } from '../machine';
import { causeArrows, chainOf, simulateCycle, spotOf, type CycleRecord } from './index';

let record: CycleRecord;
beforeAll(async () => {
  await loadContact();
  const read = readMachineText(
    readFileSync(join(__dirname, '../../../../demo/seedling-transplanter.yoke.json'), 'utf8'),
  );
  if (!read.ok) throw new Error('the transplanter does not open');
  read.machine.sequence.cycle.most = 8;
  record = simulateCycle(read.machine).record;
});
const all = { chosen: [], chain: null, criticalOnly: false };

test('a cause stands no later than what it started, on the signal or the move that its event is of', () => {
  const arrows = causeArrows(record, { from: 0, to: record.duration }, all);
  expect(arrows.length).toBeGreaterThan(10);
  for (const { from, to, acts } of arrows) {
    expect(from.time).toBeLessThanOrEqual(to.time + 1e-9);
    const move = record.moves.find(({ started }) => started === acts)!;
    expect(to.on).toEqual({ axis: move.axis });
    if ('sensor' in from.on) {
      const { sensor } = from.on;
      const changes = record.signals.find((signal) => signal.sensor === sensor)!.times;
      expect(changes.some((time) => Math.abs(time - from.time) < 1e-9)).toBe(true);
    }
  }
});

test('what is chosen is shown alone; else, where asked for, the chain alone; and nothing from outside the stretch', () => {
  const [move] = record.moves;
  const own = causeArrows(record, { from: 0, to: record.duration }, { ...all, chosen: [move!.cue] });
  for (const { acts } of own) expect(record.events[acts]!.subject).toBe(move!.cue);
  const chain = chainOf(record);
  const critical = causeArrows(record, { from: 0, to: record.duration }, { ...all, chain, criticalOnly: true });
  const every = causeArrows(record, { from: 0, to: record.duration }, { ...all, chain });
  expect(critical.length).toBeGreaterThan(0);
  expect(critical.length).toBeLessThan(every.length);
  expect(causeArrows(record, { from: 0, to: record.duration }, all).some((arrow) => arrow.critical)).toBe(false);
  const span = { from: 2, to: 4 };
  for (const { from, to } of causeArrows(record, span, all))
    expect([from.time, to.time].every((time) => time >= span.from - 1e-9 && time <= span.to + 1e-9)).toBe(true);
});

test('cues that take no time have no place of their own', () => {
  const alarm = record.events.find(({ kind }) => kind === 'cue')!;
  expect(spotOf(record, 0)).toBeNull();
  const spot = spotOf(record, alarm.index);
  if (spot) expect('axis' in spot.on).toBe(true);
});
