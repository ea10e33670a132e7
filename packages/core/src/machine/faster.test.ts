import { readdirSync, readFileSync } from 'node:fs';
import { MachineMotions, motionAt, movingMachine } from '../motion';
import { applyVariant, cycleTime, newVariant, readMachineText, type Machine } from './index';

function demo(file: string): Machine {
  const read = readMachineText(readFileSync(`demo/${file}`, 'utf8'));
  if (!read.ok) throw new Error(file);
  return read.machine;
}

// Speed factor k: velocities scale with k, accelerations with k² (VDI 2143 part 1; common practice).
test.each(readdirSync('demo').filter((file) => file.endsWith('.yoke.json')))(
  '%s three times as fast: the same way, velocities ×3, accelerations ×9',
  (file) => {
    const k = 3;
    const machine = demo(file);
    const fast = applyVariant(machine, { ...newVariant('v', 'Fast'), speed: k });
    const [slow, quick] = [machine, fast].map((m) => new MachineMotions(movingMachine(m))) as [
      MachineMotions,
      MachineMotions,
    ];
    for (const { id } of machine.axes)
      for (const share of [0.03, 0.21, 0.48, 0.77, 0.93]) {
        const time = share * cycleTime(machine);
        const [a, b] = [motionAt(slow.of(id).motion, time), motionAt(quick.of(id).motion, time / k)];
        expect(b.position).toBeCloseTo(a.position, 8);
        expect(Math.abs(b.velocity - k * a.velocity)).toBeLessThan(1e-6 * Math.max(1, Math.abs(b.velocity)));
        expect(Math.abs(b.acceleration - k * k * a.acceleration)).toBeLessThan(
          1e-5 * Math.max(1, Math.abs(b.acceleration)),
        );
      }
  },
);

test('formulas of loads and speeds of other axes run faster with the machine', () => {
  const machine = demo('sowing-line.yoke.json');
  machine.axes[0]!.load.formula = '2 Nm * pulse(t, 0.2 s, 1 s) + 0.1 Nm*s/rad * velocity("Sowing drum")';
  const fast = applyVariant(machine, { ...newVariant('v', 'Fast'), speed: 2 });
  expect(fast.axes[0]!.load.formula).toBe(
    '2 Nm * pulse((t * 2), 0.2 s, 1 s) + 0.1 Nm*s/rad * (velocity("Sowing drum") / 2)',
  );
});
