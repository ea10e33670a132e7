/** @jest-environment jsdom */
import '../../../test/computing';
import { addBar, addJoint, bodyPoint, groundPoint, type Mechanism } from '@yoke/core';
import { nextTick } from 'vue';
import { useBoard } from '@/stores/board';
import { useMachine } from '@/stores/machine';
import { opened, show } from '../../../test/mounting';
import ClearancePart from './ClearancePart.vue';

const monitors = () => useMachine().document!.sequence.monitors;
const choose = async (...names: string[]) => {
  const { bodies } = useMachine().document!.mechanism;
  useBoard().select(null);
  for (const name of names) useBoard().select(bodies.find((body) => body.name === name)!.id, true);
  await nextTick();
};

beforeEach(() =>
  opened((machine) => {
    const m = machine.mechanism as Mechanism;
    const flap = addBar(m, [0, 0], [0.2, 0], 'Flap');
    addBar(m, [0, 0.1], [0.2, 0.1], 'Arm');
    const rod = addBar(m, [0.2, 0], [0.3, 0], 'Rod');
    addJoint(m, 'pin', groundPoint(m, [0, 0]), bodyPoint(m, flap.id, [0, 0]));
    addJoint(m, 'pin', bodyPoint(m, flap.id, [0.2, 0]), bodyPoint(m, rod.id, [0.2, 0]));
  }),
);

test('two bodies that are chosen are watched for their clearance, and how near they may come is typed there', async () => {
  const { press, text, type } = await show(ClearancePart);
  await choose('Flap', 'Arm');
  await press('Watch Flap and Arm for their clearance');
  expect(monitors()).toMatchObject([{ least: 0.005, shapes: 'exact', stop: false }]);
  expect(text()).toContain('watches Flap and Arm over the run');
  await type('At least (0: no touch)', '12');
  expect(monitors()[0]!.least).toBeCloseTo(0.012, 12);
  // The same pair is watched once, in whichever order it is chosen.
  await choose('Arm', 'Flap');
  expect(text()).toContain('watches Arm and Flap over the run');
  expect(monitors()).toHaveLength(1);
});

test('what is tied touches by design, and is not offered', async () => {
  const { text, buttons } = await show(ClearancePart);
  await choose('Flap', 'Rod');
  expect(text()).toMatch(/Pin \d+ ties the two: they touch there by design\./);
  expect(buttons()).toEqual([]);
});

test('one body alone is offered the ground only where that has a shape', async () => {
  const { text } = await show(ClearancePart);
  await choose('Arm');
  expect(text()).toBe('');
  useMachine().edit('a chute', (draft) => {
    draft.loose.materials.push({ id: 'm', name: 'steel' });
    draft.loose.surfaces.push({ id: 's', name: 'Chute', body: 'ground', material: 'm', line: [[0, 0], [1, 0]], thickness: 0.01 }); // prettier-ignore
  });
  await nextTick();
  expect(text()).toContain('Watch Arm and the ground for their clearance');
});
