/** @jest-environment jsdom */
import '../../../test/computing';
import { polygonArea, readDxf, readSvg, writeDxf, type OutlineDrawing } from '@yoke/core';
import { nextTick } from 'vue';
import { useAside } from '@/stores/aside';
import { useMachine } from '@/stores/machine';
import { FileButton } from '../fields';
import { opened, show } from '../../../test/mounting';
import OutlinePanel from './OutlinePanel.vue';

/** Shows the panel with a drawing opened in it; files are read here instead of beside the page. */
async function withDrawing(text: string, name: string) {
  await opened();
  jest.spyOn(useAside(), 'readDrawing').mockImplementation((content: string, file: string): Promise<OutlineDrawing> => {
    return Promise.resolve().then(() => (file.endsWith('.dxf') ? readDxf(content) : readSvg(content)));
  });
  const shown = await show(OutlinePanel);
  shown.wrapper.findComponent(FileButton).vm.$emit('read', text, name);
  await new Promise((resolve) => setTimeout(resolve));
  await nextTick();
  return shown;
}
const plates = () => useMachine().document!.mechanism.bodies;
/** Area of the plate made last, m². */
const area = () => {
  const { shape } = plates().at(-1)!;
  return shape.kind === 'plate' ? Math.abs(polygonArea(shape.outline).area) : NaN;
};

test('an SVG drawing has the size that its page says, and a plate of it too', async () => {
  const { press, text } = await withDrawing(
    '<svg width="100mm" height="50mm" viewBox="0 0 400 200"><rect width="400" height="200"/></svg>',
    'cover.svg',
  );
  expect(text()).toContain('1 closed line.');
  expect(text()).toContain('As the file says: 0.25 mm');
  await press('Make a plate of it');
  expect(plates().at(-1)!.name).toBe('cover');
  expect(area()).toBeCloseTo(0.1 * 0.05, 9);
});

test('another unit makes it another size; the largest line is the plate, those inside are its holes', async () => {
  const square = (x: number, size: number): [number, number][] => [[x, x], [x + size, x], [x + size, x + size], [x, x + size]]; // prettier-ignore
  const file = writeDxf([0.05, 0.1].map((size, i) => ({ layer: 'cut', closed: true, points: square(i === 0 ? 0.02 : 0, size) }))); // prettier-ignore
  const { press, choose } = await withDrawing(file, 'frame.dxf');
  await choose('Unit of the file', '10');
  await press('Make a plate of it');
  const { shape } = plates().at(-1)!;
  expect(area()).toBeCloseTo(1, 9);
  expect(shape.kind === 'plate' && shape.holes).toHaveLength(1);
  useMachine().undo();
  expect(plates()).toEqual([]);
});

test('a file that is none is refused in words, and nothing is drawn', async () => {
  const { alerts, buttons } = await withDrawing('<p>no</p>', 'page.svg');
  expect(alerts()).toEqual([expect.stringContaining('no svg element')]);
  expect(buttons()).not.toContain('Make a plate of it');
  expect(plates()).toEqual([]);
});
