import { demo, peak } from '../../test/demos';
import { runMachine } from '..';

// What is flat in depth too asks the same of its drives: two worlds of the physics library, one machine.
test('the transplanter in space asks of its drives what it asks in the plane', async () => {
  const flat = demo('seedling-transplanter');
  const space = structuredClone(flat);
  space.loose.space = true;
  const [one, other] = [await runMachine(flat), await runMachine(space)];
  expect(other.record!.end).toBe(one.record!.end);
  expect(other.record!.duration / one.record!.duration).toBeCloseTo(1, 2);
  expect(other.record!.cycles.length).toBe(one.record!.cycles.length);
  const rms = (values: Float64Array) =>
    Math.sqrt(values.reduce((sum, value) => sum + value * value, 0) / values.length);
  flat.axes.forEach(({ name, id }, i) => {
    const [a, b] = [one.run.axes[i]!.channels.effort, other.run.axes[i]!.channels.effort];
    expect(one.run.axes[i]!.axisId).toBe(id);
    expect({ name, off: Math.abs(rms(b) / rms(a) - 1) < 0.03 }).toEqual({ name, off: true });
    expect({ name, off: Math.abs(peak(b) / peak(a) - 1) < 0.25 }).toEqual({ name, off: true });
  });
});
