import { z } from 'zod';

const positive = z.number().positive();

/** One servo motor of the catalogue, SI units. Electrical values are those of the equivalent d.c. motor. */
export const motorSchema = z
  .strictObject({
    type: z.string().regex(/\S/, 'must not be empty').max(80),
    family: z.string().regex(/\S/, 'must not be empty').max(80),
    /** Continuous torque at rated speed, N·m. */
    ratedTorque: positive,
    /** Continuous torque at standstill, N·m. */
    stallTorque: positive,
    peakTorque: positive,
    /** rad/s */
    ratedSpeed: positive,
    /** rad/s */
    maxSpeed: positive,
    /** N·m/A */
    torqueConstant: positive,
    resistance: positive,
    /** H */
    inductance: positive,
    polePairs: z.number().int().positive().max(50),
    /** V of the supply that the peak envelope belongs to. */
    supplyVoltage: positive,
    /** Rotor without brake, kg·m². */
    inertia: positive,
    /** Thermal time constant of the winding, s. */
    thermalTime: positive,
    mass: positive,
    /** Holding torque of the optional brake, N·m; null where none is offered. */
    brakeTorque: positive.nullable(),
    /** Inertia that the brake adds, kg·m². */
    brakeInertia: z.number().min(0),
    /** Mass that the brake adds, kg. */
    brakeMass: z.number().min(0),
  })
  .superRefine((motor, context) => {
    const say = (key: keyof typeof motor, message: string) =>
      context.addIssue({ code: 'custom', path: [key], message });
    if (motor.stallTorque < motor.ratedTorque) say('stallTorque', 'must not be below the rated torque');
    if (motor.peakTorque < motor.stallTorque) say('peakTorque', 'must not be below the stall torque');
    if (motor.maxSpeed < motor.ratedSpeed) say('maxSpeed', 'must not be below the rated speed');
  });

export type Motor = z.infer<typeof motorSchema>;

/**
 * Largest torque in N·m at a speed (rad/s, any sign): the peak torque until the supply voltage runs short.
 * Phasor equation of a synchronous motor with current in phase with its voltage constant:
 * U² = (R i + k ω)² + (p ω L i)², T = k i (textbook).
 */
export function peakEnvelope(motor: Motor, speed: number): number {
  const omega = Math.abs(speed);
  if (omega > motor.maxSpeed) return 0;
  const { torqueConstant: k, resistance: r, supplyVoltage: u } = motor;
  const back = k * omega;
  if (back >= u) return 0;
  const reactance = motor.polePairs * omega * motor.inductance;
  const impedance = r * r + reactance * reactance;
  const current = (-r * back + Math.sqrt(r * r * back * back + impedance * (u * u - back * back))) / impedance;
  return Math.min(motor.peakTorque, k * current);
}

/**
 * Share of the permitted heat that speed alone makes, from the fall of continuous torque between
 * standstill and rated speed: copper loss grows with T², the rest with ω².
 */
export function speedHeat(motor: Motor, speed: number): number {
  const fall = 1 - (motor.ratedTorque / motor.stallTorque) ** 2;
  return fall * (speed / motor.ratedSpeed) ** 2;
}

/** Continuous torque in N·m at a speed (rad/s, any sign): T₀ √(1 − (1 − (T_r/T₀)²)(ω/ω_r)²). */
export function continuousEnvelope(motor: Motor, speed: number): number {
  if (Math.abs(speed) > motor.maxSpeed) return 0;
  const left = 1 - speedHeat(motor, speed);
  return left <= 0 ? 0 : Math.min(motor.stallTorque * Math.sqrt(left), peakEnvelope(motor, speed));
}

/** Both envelopes over speeds from standstill to the maximum, for drawing. */
export function envelopes(
  motor: Motor,
  points = 120,
): { speed: Float64Array; peak: Float64Array; continuous: Float64Array } {
  const speed = Float64Array.from({ length: points + 1 }, (_, i) => (motor.maxSpeed * i) / points);
  return {
    speed,
    peak: speed.map((omega) => peakEnvelope(motor, omega)),
    continuous: speed.map((omega) => continuousEnvelope(motor, omega)),
  };
}
