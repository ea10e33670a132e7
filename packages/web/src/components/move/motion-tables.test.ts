/** @jest-environment jsdom */
import '../../../test/computing';
import {
  addBar,
  addGuide,
  addPath,
  bodyPoint,
  GROUND,
  newAxis,
  planKnees,
  type Axis,
  type MotionSourceOf,
} from '@yoke/core';
import { h, nextTick } from 'vue';
import { useCursor } from '@/stores/cursor';
import { useMachine } from '@/stores/machine';
import { opened, show } from '../../../test/mounting';
import BlockList from './BlockList.vue';
import PlanTools from './PlanTools.vue';
import SegmentTable from './SegmentTable.vue';

/** Shows a part of Move for the axis as the document has it, whatever is changed. */
const ofAxis = (part: object) => show({ render: () => h(part as never, { axis: useMachine().axis! } as never) });
const undo = async () => (useMachine().undo(), nextTick());
const axis = (): Axis => useMachine().axis!;
const segments = () => axis().plan.segments.map((s) => (s.kind === 'move' ? `${s.duration} s to ${s.to}` : `${s.duration} s`)); // prettier-ignore

describe('the plan as a table', () => {
  beforeEach(() => opened((machine) => machine.axes.push(newAxis('linear', [], 2))));

  test('shows every segment with its time, place, stroke and law', async () => {
    const { field, text } = await ofAxis(SegmentTable);
    expect(['Time of segment 1', 'Position after segment 1', 'Stroke of segment 3'].map((name) => field(name).value)).toEqual(['0.7', '200', '-200']); // prettier-ignore
    expect(text()).toContain('1 rise');
    expect(text()).toContain('3 return');
    expect(text()).toContain('rests');
  });

  test('a time, a place and a stroke are typed; what follows stays where it is, and a closed cycle stays closed', async () => {
    const { type } = await ofAxis(SegmentTable);
    await type('Time of segment 1', '0.5');
    await type('Position after segment 1', '150');
    expect(segments()).toEqual(['0.5 s to 0.15', '0.4 s', '0.7 s to 0', '0.2 s']);
    await type('Stroke of segment 3', '-100');
    expect(planKnees(axis().plan).map(({ position }) => Number(position.toFixed(9)))).toEqual([0.05, 0.15, 0.15, 0.05, 0.05]); // prettier-ignore
    await type('Start position', '10');
    expect(axis().plan.start).toBeCloseTo(0.01, 12);
  });

  test('segments are moved, cut, mirrored and deleted; each is one step of undo', async () => {
    const { press } = await ofAxis(SegmentTable);
    const before = segments();
    await press('Segment 2 up');
    expect(segments()[0]).toBe('0.4 s');
    await undo();
    expect(segments()).toEqual(before);
    await press('Delete segment 2');
    expect(segments()).toHaveLength(3);
    await undo();
    await press('Split segment 1');
    expect(segments()).toHaveLength(5);
    expect(axis().plan.segments[0]!.duration + axis().plan.segments[1]!.duration).toBeCloseTo(0.7, 12);
  });

  test('a law is chosen, and offers its own parameters', async () => {
    const { choose, type, field, alerts } = await ofAxis(SegmentTable);
    await choose('Law of segment 1', 'trapezoidal');
    expect(axis().plan.segments[0]).toMatchObject({ law: { id: 'trapezoidal' } });
    const share = field('Share accelerating');
    expect(share.value).not.toBe('');
    await type('Share accelerating', '0.2');
    expect(alerts()).toEqual(['At least 1 % is needed.']);
    await type('Share accelerating', '20');
    expect(axis().plan.segments[0]).toMatchObject({ law: { parameters: { acceleration: 0.2 } } });
  });

  test('a new move goes behind the segment at the cursor, to the other end of the stroke', async () => {
    const { press } = await ofAxis(SegmentTable);
    useCursor().moveTo(0.1);
    await press('Insert a move');
    expect(segments()).toHaveLength(5);
    expect(axis().plan.segments[1]).toMatchObject({ kind: 'move', to: 0 });
    await press('Insert a dwell');
    expect(axis().plan.segments[1]).toMatchObject({ kind: 'dwell' });
  });

  test('a time that cannot be is refused where it was typed, and nothing is changed', async () => {
    const { type, alerts } = await ofAxis(SegmentTable);
    const before = segments();
    await type('Time of segment 1', '-1');
    expect(alerts()).toHaveLength(1);
    expect(segments()).toEqual(before);
  });
});

describe('tools for the whole plan', () => {
  beforeEach(() => opened((machine) => machine.axes.push(newAxis('linear', [], 2))));

  test('scaled, shifted and turned round', async () => {
    const { press, type } = await ofAxis(PlanTools);
    const { buttons } = await ofAxis(PlanTools);
    expect(buttons()).toEqual(expect.arrayContaining(['Mirror all', 'Turn round', 'Scale', 'Half a cycle']));
    await press('Turn round');
    expect(Math.min(...planKnees(axis().plan).map(({ position }) => position))).toBeLessThan(0);
    await undo();
    await type('Factor', '0.5');
    await press('Scale');
    expect(Math.max(...planKnees(axis().plan).map(({ position }) => position))).toBeCloseTo(0.1, 12);
  });
});

describe('the whole length of the path that an axis leads along', () => {
  beforeEach(() =>
    opened((machine) => {
      const m = machine.mechanism;
      const carriage = addBar(m, [0, 0], [0.05, 0], 'Carriage');
      // A half circle of 100 mm radius: π · 100 mm.
      const path = addPath(m, GROUND, { kind: 'chain', start: [0, 0], closed: false, pieces: [{ kind: 'arc', via: [0.1, 0.1], to: [0.2, 0] }] }); // prettier-ignore
      const guide = addGuide(m, path.id, bodyPoint(m, carriage.id, [0, 0]));
      const made = newAxis('linear', [], 2);
      made.joint = guide.id;
      machine.axes.push(made);
    }),
  );
  const positions = () => planKnees(axis().plan).map(({ position }) => position);

  test('is taken over as the stroke, or as the end of the plan', async () => {
    const { press, text } = await ofAxis(PlanTools);
    expect(text()).toContain('Whole path, 314.16 mm');
    await press('As the stroke');
    expect(Math.max(...positions()) - Math.min(...positions())).toBeCloseTo(0.1 * Math.PI, 12);
    await undo();
    await press('As the end');
    expect(positions().at(-1)! - positions()[0]!).toBeCloseTo(0.1 * Math.PI, 12);
  });

  test('is not offered where the axis leads along none', async () => {
    await opened((machine) => machine.axes.push(newAxis('linear', [], 2)));
    const { text } = await ofAxis(PlanTools);
    expect(text()).not.toContain('Whole path');
  });
});

describe('servo moves as blocks', () => {
  beforeEach(() =>
    opened((machine) => {
      const made = newAxis('linear', [], 2);
      made.limits = { velocity: 1, acceleration: 10, jerk: null };
      made.motion.source = { kind: 'moves', blocks: [] };
      machine.axes.push(made);
    }),
  );
  const blocks = () => (axis().motion.source as MotionSourceOf<'moves'>).blocks;

  test('every kind is added with values that make a motion, and says what it turned out to do', async () => {
    const { press, text } = await ofAxis(BlockList);
    expect(text()).toContain('No blocks yet');
    for (const name of ['Travel', 'Constant speed', 'Wait', 'Oscillate', 'Repeat', 'Return home']) await press(name);
    expect(blocks().map(({ kind }) => kind)).toEqual(['travel', 'work', 'wait', 'oscillate', 'repeat', 'home']);
    // 100 mm under 1 m/s and 10 m/s²: it just reaches its speed, in 0.2 s.
    expect(text()).toMatch(/1 Travel0.2 s, 1000 mm\/s .*by the velocity of the axisGoes/);
    expect(text()).toContain('run-up');
    expect(text()).toMatch(/\d s in all: travel \d+ %/);
  });

  test('a velocity stands on the block, and takes the place of that of the axis', async () => {
    const { press, type, field, text } = await ofAxis(BlockList);
    await press('Travel');
    expect(field('Velocity of block 1').placeholder).toContain('1000');
    await type('Velocity of block 1', '250 mm/s');
    expect(blocks()[0]).toMatchObject({ velocity: 0.25 });
    expect(text()).toContain('250 mm/s');
    expect(text()).not.toContain('by the velocity of the axis');
  });

  test('blocks are copied, moved and deleted', async () => {
    const { press } = await ofAxis(BlockList);
    await press('Travel');
    await press('Wait');
    await press('Copy block 1');
    expect(blocks().map(({ kind }) => kind)).toEqual(['travel', 'travel', 'wait']);
    expect(new Set(blocks().map(({ id }) => id)).size).toBe(3);
    await press('Block 3 up');
    await press('Delete block 1');
    expect(blocks().map(({ kind }) => kind)).toEqual(['wait', 'travel']);
  });

  test('a way is typed in any unit; a time too short for the limits is said with the block', async () => {
    const { press, type, text } = await ofAxis(BlockList);
    await press('Travel');
    await type('Way of block 1', '10 in');
    expect(blocks()[0]).toMatchObject({ value: 0.254 });
    await type('Wanted time of block 1', '0.05');
    expect(blocks()[0]).toMatchObject({ time: 0.05 });
    expect(text()).toContain('1 Travel');
    expect(document.querySelector('li.wrong')).not.toBeNull();
    await type('Wanted time of block 1', '');
    expect(document.querySelector('li.wrong')).toBeNull();
  });
});
