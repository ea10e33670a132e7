/** @jest-environment jsdom */
import '../../../test/computing';
import { newAxis, type Condition, type Cue } from '@yoke/core';
import { nextTick } from 'vue';
import { useCues } from '@/stores/cues';
import { useCursor } from '@/stores/cursor';
import { useMachine } from '@/stores/machine';
import { cue, move, on, sensor, wait } from '../../../../core/test/cycles';
import { opened, ran, show } from '../../../test/mounting';
import ConditionField from './ConditionField.vue';
import CueSheet from './CueSheet.vue';
import EventLog from './EventLog.vue';
import RulesPart from './RulesPart.vue';
import SensorPart from './SensorPart.vue';

/** A slide that a button sends out and back again, and what its place tells. */
const sending = () =>
  opened((machine) => {
    const axis = newAxis('linear', [], 2);
    Object.assign(axis, { id: 'x', name: 'Slide' });
    axis.motion.source = { kind: 'cues', start: 0 };
    machine.axes = [axis];
    machine.sequence.sensors = [
      sensor('go', { kind: 'button', presses: [{ at: 0.5, hold: 0.1 }] }, { name: 'Go' }),
      sensor('out', { kind: 'position', axis: 'x', quantity: 'position', side: 'above', value: 0.1 }, { name: 'Out' }),
    ];
    machine.sequence.cues = [
      cue('send', move('x', 0.2, 0.4), { name: 'Send', when: on('go') }),
      cue('rest', wait(0.3), { name: 'Rest', after: ['send'] }),
      cue('back', move('x', 0, 0.4), { name: 'Back', after: ['rest'], delay: 0.1 }),
    ];
    machine.sequence.cycle = { starts: 'send', cycles: 1, most: 5 };
  });
const sequence = () => useMachine().document!.sequence;
const cueOf = (id: string): Cue => sequence().cues.find((c) => c.id === id)!;
beforeEach(sending);

describe('a condition in words', () => {
  const field = async (value: Condition | null) => {
    const taken: (Condition | null)[] = [];
    const commit = (next: Condition | null) => (taken.push(next), null);
    const shown = await show(ConditionField, { value, label: 'When', commit });
    const write = async (text: string) => {
      const box = shown.field('When');
      box.value = text;
      box.dispatchEvent(new Event('input', { bubbles: true }));
      box.dispatchEvent(new Event('change', { bubbles: true }));
      await nextTick();
    };
    return { ...shown, taken, write };
  };

  test('is shown and read in words', async () => {
    const { field: box, write, taken } = await field({ op: 'not', of: on('go') });
    expect(box('When').value).toBe('Go off');
    await write('Out comes on and Go off');
    expect(taken).toEqual([
      {
        op: 'and',
        of: [
          { op: 'rises', sensor: 'out' },
          { op: 'not', of: on('go') },
        ],
      },
    ]);
    await write('');
    expect(taken.at(-1)).toBeNull();
  });

  test('what cannot be read stays, with the place and the reason', async () => {
    const { field: box, write, taken, alerts, wrapper } = await field(on('go'));
    await write('Go on and Nothing comes on');
    expect(box('When').value).toBe('Go on and Nothing comes on');
    expect(alerts()[0]).toContain('Nothing');
    expect(wrapper.find('mark').text()).toContain('Nothing');
    expect(taken).toEqual([]);
  });

  test('terms that can be put in are those of the machine, and are put behind what is there', async () => {
    const { wrapper, taken } = await field(on('go'));
    const groups = wrapper.findAll('optgroup').map((group) => group.attributes('label'));
    expect(groups).toEqual(['Sensors', 'Cues', 'Axes', 'Time']);
    const list = wrapper.find('select');
    await list.setValue('Out goes off');
    expect(taken).toEqual([{ op: 'and', of: [on('go'), { op: 'falls', sensor: 'out' }] }]);
  });
});

describe('the cue sheet', () => {
  test('says of every cue what it waits for, what it does and how often it ran', async () => {
    const { text } = await show(CueSheet);
    await ran();
    expect(text()).toMatch(/Send.*Go on.*1×.*Rest.*Send.*1×.*Back.*Rest.*0\.1 s.*1×/);
  });

  test('a press on how often it ran leads the cursor to its start', async () => {
    const { press } = await show(CueSheet);
    await ran();
    await press('1×');
    expect(useCursor().time).toBeCloseTo(0.5, 6);
  });

  test('rows are chosen one by one, several with Ctrl, and moved by key', async () => {
    const { wrapper } = await show(CueSheet);
    const rows = () => wrapper.findAll('tbody tr');
    await rows()[0]!.trigger('click');
    await rows()[2]!.trigger('click', { ctrlKey: true });
    expect(useCues().chosen).toEqual(['send', 'back']);
    await rows()[2]!.find('button.name').trigger('keydown', { key: 'ArrowUp', code: 'ArrowUp', altKey: true });
    expect(sequence().cues.map(({ id }) => id)).toEqual(['send', 'back', 'rest']);
  });
});

describe('sensors', () => {
  test('show what they sense and whether they are on at the cursor', async () => {
    const { wrapper, text } = await show(SensorPart);
    await ran();
    expect(text()).toContain('Go');
    const lamps = () => wrapper.findAll('.lamp').map((lamp) => lamp.attributes('title'));
    expect(lamps()).toEqual(['off at the cursor', 'off at the cursor']);
    useCursor().moveTo(0.55);
    await nextTick();
    expect(lamps()).toEqual(['on at the cursor', 'off at the cursor']);
  });

  test('each kind that the machine allows is added; the others say why not', async () => {
    const { choose, press, alerts, wrapper } = await show(SensorPart);
    await choose('Kind of sensor', 'area');
    await press('Add the sensor');
    expect(sequence().sensors.at(-1)).toMatchObject({ sensing: { kind: 'area' } });
    expect(useCues().sensorId).toBe(sequence().sensors.at(-1)!.id);
    await choose('Kind of sensor', 'count');
    await press('Add the sensor');
    expect(alerts()).toEqual([]);
    const options = wrapper
      .findAllComponents({ name: 'ElOption' })
      .map((option) => option.props('disabled') as boolean);
    expect(options).toContain(false);
  });

  test('one that is spoken of stays, and says who speaks of it', async () => {
    const { press, alerts } = await show(SensorPart);
    await press('Delete Go');
    expect(alerts()).toEqual(['Go stays: Send speaks of it.']);
    expect(sequence().sensors).toHaveLength(2);
    await press('Delete Out');
    expect([alerts(), sequence().sensors.map(({ id }) => id)]).toEqual([[], ['go']]);
  });

  test('flags are added, set and deleted', async () => {
    const { press, choose } = await show(SensorPart);
    await press('Add a flag');
    await choose('Set at the start', true);
    expect(sequence().flags).toMatchObject([{ set: true }]);
    await press(`Delete ${sequence().flags[0]!.name}`);
    expect(sequence().flags).toEqual([]);
  });
});

describe('rules of the sheet', () => {
  test('an interlock is added, says what it forbids while what, and goes again', async () => {
    const { press, field } = await show(RulesPart);
    await press('Add an interlock');
    expect(sequence().interlocks).toMatchObject([{ forbids: ['send'] }]);
    const box = field('While');
    box.value = 'Out on';
    box.dispatchEvent(new Event('input', { bubbles: true }));
    box.dispatchEvent(new Event('change', { bubbles: true }));
    await nextTick();
    expect(sequence().interlocks[0]!.during).toEqual(on('out'));
    await press(`Delete ${sequence().interlocks[0]!.name}`);
    expect(sequence().interlocks).toEqual([]);
  });

  test('a monitor without bodies says what is needed', async () => {
    const { press, alerts } = await show(RulesPart);
    await press('Add a monitor');
    expect(alerts()).toEqual(['A monitor watches bodies: draw them in Build first.']);
  });

  test('the controller scans, the emergency stop has its condition', async () => {
    const { field, type } = await show(RulesPart);
    await type('Scan', '20 ms');
    expect(sequence().controller.scan).toBeCloseTo(0.02, 12);
    const box = field('When');
    box.value = 'Go goes off';
    box.dispatchEvent(new Event('input', { bubbles: true }));
    box.dispatchEvent(new Event('change', { bubbles: true }));
    await nextTick();
    expect(sequence().emergency.when).toEqual({ op: 'falls', sensor: 'go' });
  });
});

describe('the log', () => {
  test('says in order what happened and what it came from', async () => {
    const { text } = await show(EventLog);
    await ran();
    await nextTick();
    expect(text()).toMatch(/Send/);
    expect(text().indexOf('Go')).toBeLessThan(text().indexOf('Back'));
  });
});

test('a cue that is renamed keeps those that wait for it', async () => {
  useCues().editCue('send', 'name of a cue', (c) => void (c.name = 'Sent'));
  const { text } = await show(CueSheet);
  await ran();
  expect(cueOf('rest').after).toEqual(['send']);
  expect(text()).toMatch(/Rest\s*Sent/);
});
