/** @jest-environment jsdom */
import { motors } from '../../../test/computing';
import {
  addBar,
  addJoint,
  addPath,
  bodyPoint,
  GROUND,
  groundPoint,
  leadLength,
  newAxis,
  type Machine,
} from '@yoke/core';
import { nextTick } from 'vue';
import { api } from '@/api/client';
import { useCursor } from '@/stores/cursor';
import { useMachine } from '@/stores/machine';
import { drive } from '../../../../core/test/mechanisms';
import { planOf } from '../../../../core/test/plans';
import { opened, show, type Shown } from '../../../test/mounting';
import LawsPart from './LawsPart.vue';
import LeadPart from './LeadPart.vue';

// Curves are drawn on a canvas, which is not here; what they show is core's.
jest.mock('@/components/CurveStack.vue', () => ({ __esModule: true, default: { render: () => null } }));

const axis = () => useMachine().axis!;
/** Waits until something is shown; what has been done before is seen first. */
const until = async (seen: () => boolean) => {
  await nextTick();
  while (!seen()) await new Promise((resolve) => setTimeout(resolve, 5));
  await nextTick();
};
/** Cells of the row that begins with a name. */
const row = ({ wrapper }: Shown, table: string, name: string): string[] => {
  const found = wrapper
    .findAll(`section[aria-label="${table}"] tbody tr`)
    .map((line) => line.findAll('th, td').map((cell) => cell.text().trim()))
    .find((cells) => cells.some((text) => text.startsWith(name)));
  if (!found) throw new Error(`There is no row “${name}”.`);
  return found;
};

beforeEach(() => {
  jest.spyOn(api, 'listMotors').mockResolvedValue({ motors, former: null });
});

describe('laws', () => {
  const HEIGHT = 0.2;
  const TIME = 0.5;
  beforeEach(() =>
    opened((machine) => {
      const made = newAxis('linear', [], 2);
      made.plan = planOf('poly345', [TIME, HEIGHT], [0.5], [TIME, 0], [0.5]);
      machine.axes.push(made);
    }),
  );

  test('are listed with the figures of VDI 2143', async () => {
    const shown = await show(LawsPart);
    const figures = (name: string) => row(shown, 'Laws', name).slice(2, 5);
    // Characteristic values: VDI 2143 part 1, table of standard laws (from memory); each follows from its formula.
    expect(figures('Polynomial 3-4-5')).toEqual(['1.875', '5.774', '60.000']);
    expect(figures('Simple harmonic')).toEqual(['1.571', '4.935', '∞']);
    expect(figures('Inclined sine')).toEqual(['2.000', '6.283', '39.478']);
    expect(figures('Modified sine')).toEqual(['1.760', '5.528', '69.466']);
    expect(figures('Modified trapezoid')).toEqual(['2.000', '4.888', '61.426']);
  });

  test('are compared on the axis: peaks are the figures times height over time', async () => {
    const shown = await show(LawsPart);
    await until(() => shown.wrapper.findAll('section[aria-label="Comparison on this axis"] tbody tr').length === 3);
    const now = row(shown, 'Comparison on this axis', 'As it is');
    expect(Number(now[1])).toBeCloseTo((1000 * 1.875 * HEIGHT) / TIME, 0);
    expect(Number(now[2])).toBeCloseTo((5.7735 * HEIGHT) / TIME ** 2, 2);
    const sine = row(shown, 'Comparison on this axis', 'Modified sine');
    expect(Number(sine[1])).toBeCloseTo((1000 * 1.7596 * HEIGHT) / TIME, 0);
    expect(Number(sine[2])).toBeCloseTo((5.528 * HEIGHT) / TIME ** 2, 2);
    // The least of a column is marked: the softest in velocity, and another in acceleration.
    const least = (column: number) =>
      shown.wrapper
        .findAll('section[aria-label="Comparison on this axis"] tbody tr')
        .filter((line) => line.findAll('th, td')[column]!.classes('least'))
        .map((line) => line.find('th').text().trim());
    expect(least(1)).toEqual(['Modified sine']);
    expect(least(2)).toEqual(['Modified trapezoid']);
  });

  test('one is taken by a press, and Undo gives the old one back', async () => {
    const shown = await show(LawsPart);
    await until(() => shown.buttons().includes('Take Modified sine'));
    await shown.press('Take Modified sine');
    const laws = () => axis().plan.segments.flatMap((s) => (s.kind === 'move' && s.law ? [s.law.id] : []));
    expect(laws()).toEqual(['modifiedSine', 'modifiedSine']);
    useMachine().undo();
    expect(laws()).toEqual(['poly345', 'poly345']);
  });

  test('what is read about a law is that of the chosen one; unticked ones are not compared', async () => {
    const shown = await show(LawsPart);
    await shown.press('Inclined sine');
    expect(shown.wrapper.find('.detail').text()).toContain('Inclined sine');
    await shown.wrapper.find('[aria-label="Compare Modified trapezoid"] input, input[aria-label="Compare Modified trapezoid"]').setValue(false); // prettier-ignore
    await until(() => shown.wrapper.findAll('section[aria-label="Comparison on this axis"] tbody tr').length === 2);
    expect(shown.text()).not.toContain('Take Modified trapezoid');
  });

  test('where no plan moves the axis other laws are not offered, and it says why', async () => {
    useMachine().editAxis('constant', (draft) => {
      draft.motion.source = { kind: 'constant', value: 0.1 };
      draft.motion.level = 'velocity';
    });
    const shown = await show(LawsPart);
    expect(shown.text()).toContain('Other laws are tried on a motion plan');
    const boxes = shown.wrapper.findAll<HTMLInputElement>('.library input');
    expect(boxes.length).toBeGreaterThan(10);
    expect(boxes.every((box) => box.element.disabled)).toBe(true);
  });
});

/** Two slides, one on the other: its tool goes anywhere in the plane. */
function table(machine: Machine): void {
  machine.cycle = { given: 'time', time: 5 };
  const m = machine.mechanism;
  m.gravity.on = false;
  const across = addBar(m, [0, 0], [0.1, 0], 'Cross slide');
  const up = addBar(m, [0, 0], [0, 0.1], 'Upright');
  const x = addJoint(m, 'slide', groundPoint(m, [0, 0]), bodyPoint(m, across.id, [0, 0]), { name: 'X', direction: 0 });
  const y = addJoint(m, 'slide', bodyPoint(m, across.id, [0, 0]), bodyPoint(m, up.id, [0, 0]), { name: 'Y', direction: Math.PI / 2 }); // prettier-ignore
  for (const joint of [x, y]) {
    const made = drive(machine, joint, { kind: 'constant', value: 0 });
    made.name = `Axis ${joint.name}`;
  }
  addPath(m, GROUND, {
    kind: 'chain',
    start: [0, 0.1],
    closed: false,
    pieces: [{ kind: 'line', to: [0.2, 0.1] }, { kind: 'line', to: [0.2, 0.3] }], // prettier-ignore
  });
}

describe('a led tool point', () => {
  const lead = () => useMachine().document!.leads[0]!;

  test('without a mechanism it says what is missing and where it is drawn', async () => {
    await opened();
    const shown = await show(LeadPart);
    expect(shown.text()).toContain('draw an arm in Build');
    expect(shown.wrapper.find('button').attributes('disabled')).toBeDefined();
  });

  test('tells the length of its blended path and the place of its peak, and leads the cursor there', async () => {
    await opened(table);
    const shown = await show(LeadPart);
    await shown.press('Lead a tool point');
    useMachine().edit('the corner of the upright', (draft) => {
      draft.leads[0]!.point = { body: draft.mechanism.bodies[1]!.id, point: draft.mechanism.bodies[1]!.points.at(-1)!.id };
      draft.leads[0]!.law = { kind: 'speed', speed: 0.2, ramp: 0.1 };
      draft.leads[0]!.blend = 0.02;
    }); // prettier-ignore
    await until(() => shown.text().includes('The greatest acceleration'));
    expect(shown.alerts()).toEqual([]);
    expect(lead().blend).toBe(0.02);
    // Two lines of 200 mm less what the blend cuts off: it leaves and joins them 20 mm before the corner.
    const long = Number(/The path is ([\d.]+) mm long/.exec(shown.text())![1]);
    expect(long).toBeLessThan(400);
    expect(long).toBeGreaterThan(360 + 20 * Math.SQRT2);
    await shown.press(shown.buttons().find((name) => name.startsWith('The greatest acceleration'))!);
    // The corner is half way.
    expect(useCursor().time).toBeGreaterThan(0.8);
    expect(useCursor().time).toBeLessThan(1.3);
  });

  test('its motions are kept as those of its axes; they lead it where it was led', async () => {
    await opened(table);
    const shown = await show(LeadPart);
    await shown.press('Lead a tool point');
    useMachine().edit('slower', (draft) => {
      draft.leads[0]!.point = { body: draft.mechanism.bodies[1]!.id, point: draft.mechanism.bodies[1]!.points.at(-1)!.id };
    }); // prettier-ignore
    await until(() => shown.buttons().includes('Keep as motions of the 2 axes') && shown.wrapper.find('[aria-busy="true"]').exists() === false); // prettier-ignore
    await shown.press('Keep as motions of the 2 axes');
    await until(() => shown.wrapper.find('[role="status"]').exists());
    expect(shown.wrapper.find('[role="status"]').text()).toContain('Axis X and Axis Y now make these motions');
    const kinds = useMachine().document!.axes.map(({ motion }) => motion.source.kind);
    expect(kinds).toEqual(['points', 'points']);
    useMachine().undo();
    expect(useMachine().document!.axes.map(({ motion }) => motion.source.kind)).toEqual(['constant', 'constant']);
  });

  test('one move by a law goes the whole path at first; typed otherwise, the whole length is taken over exactly', async () => {
    await opened(table);
    const shown = await show(LeadPart);
    await shown.press('Lead a tool point');
    await until(() => shown.text().includes('What comes of it'));
    await shown.choose('Law along it', 'plan');
    const to = () => {
      const { law } = lead();
      const [move] = law.kind === 'plan' ? law.plan.segments : [];
      return move?.kind === 'move' ? move.to : NaN;
    };
    const whole = leadLength(useMachine().document!, lead())!;
    expect(to()).toBe(whole);
    expect(shown.buttons().some((name) => name.startsWith('Whole path'))).toBe(false);
    await shown.type('Up to', '150 mm');
    expect(to()).toBe(0.15);
    await shown.press(shown.buttons().find((name) => name.startsWith('Whole path'))!);
    expect(to()).toBe(whole);
    // Without its corners blended it is longer: the button is there again.
    await shown.type('Blend corners from', '0');
    expect(leadLength(useMachine().document!, lead())).toBeCloseTo(0.4, 12);
    expect(shown.buttons()).toContain('Whole path: 400 mm');
  });

  test('what was found before an edit is not kept after it: the button waits for the new result', async () => {
    await opened(table);
    const shown = await show(LeadPart);
    await shown.press('Lead a tool point');
    const keep = () => shown.wrapper.findAll('button').find((b) => b.text().startsWith('Keep as motions'));
    await until(() => keep() !== undefined && keep()!.attributes('disabled') === undefined);
    await shown.type('Speed', '100 mm/s');
    expect(keep()!.attributes('disabled')).toBeDefined();
    expect(shown.wrapper.find('section[aria-busy="true"]').exists()).toBe(true);
    await until(() => keep()!.attributes('disabled') === undefined);
    await shown.press(keep()!.text());
    const last = useMachine().document!.axes.map(({ motion }) => motion.source).flatMap((s) => (s.kind === 'points' ? [s.rows.at(-1)![0]!] : [])); // prettier-ignore
    // 400 mm or so at 100 mm/s.
    expect(Math.min(...last)).toBeGreaterThan(3.5);
  });

  test('it is deleted, and Undo brings it back', async () => {
    await opened(table);
    const shown = await show(LeadPart);
    await shown.press('Lead a tool point');
    await until(() => shown.text().includes('What comes of it'));
    await shown.press('Delete Tool 1');
    expect(useMachine().document!.leads).toEqual([]);
    useMachine().undo();
    expect(lead().name).toBe('Tool 1');
  });
});
