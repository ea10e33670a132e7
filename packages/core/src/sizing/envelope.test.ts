import { readFileSync } from 'node:fs';
import { join } from 'node:path';
import fc from 'fast-check';
import { readCatalogue } from '../format';
import { continuousEnvelope, envelopes, peakEnvelope } from './index';

const catalogue = readCatalogue(readFileSync(join(__dirname, '../../../../demo/motors.csv'), 'utf8'));
const motors = fc.constantFrom(...catalogue);
const share = fc.double({ min: 0, max: 1, noNaN: true });

test('both envelopes fall with speed, and the continuous one lies below the peak', () => {
  fc.assert(
    fc.property(motors, share, share, (motor, a, b) => {
      const [slow, fast] = [Math.min(a, b) * motor.maxSpeed, Math.max(a, b) * motor.maxSpeed];
      expect(peakEnvelope(motor, fast)).toBeLessThanOrEqual(peakEnvelope(motor, slow) + 1e-12);
      expect(continuousEnvelope(motor, fast)).toBeLessThanOrEqual(continuousEnvelope(motor, slow) + 1e-12);
      expect(continuousEnvelope(motor, slow)).toBeLessThanOrEqual(peakEnvelope(motor, slow));
    }),
  );
});

test('they are the same whichever way the motor turns', () => {
  fc.assert(
    fc.property(motors, share, (motor, a) => {
      expect(peakEnvelope(motor, -a * motor.maxSpeed)).toBe(peakEnvelope(motor, a * motor.maxSpeed));
      expect(continuousEnvelope(motor, -a * motor.maxSpeed)).toBe(continuousEnvelope(motor, a * motor.maxSpeed));
    }),
  );
});

test('heat at the continuous envelope is the permitted heat, at any speed (heat balance, by hand)', () => {
  fc.assert(
    fc.property(motors, fc.double({ min: 0, max: 1, noNaN: true }), (motor, a) => {
      const speed = a * motor.ratedSpeed;
      const copper = (continuousEnvelope(motor, speed) / motor.stallTorque) ** 2;
      const rest = (1 - (motor.ratedTorque / motor.stallTorque) ** 2) * a * a;
      expect(copper + rest).toBeCloseTo(1, 10);
    }),
  );
});

test('drawn outlines run from standstill to the maximum speed', () => {
  const motor = catalogue[0]!;
  const { speed, peak, continuous } = envelopes(motor, 50);
  expect([speed[0], speed.at(-1), speed.length]).toEqual([0, motor.maxSpeed, 51]);
  expect(peak[0]).toBe(motor.peakTorque);
  expect(continuous[0]).toBeCloseTo(motor.stallTorque, 12);
});
