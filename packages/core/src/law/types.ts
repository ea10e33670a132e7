/** Parameters of an adjustable law, by name; shares of the rise time unless their label says otherwise. */
export type LawParameters = Readonly<Record<string, number>>;

/** One parameter a law can be adjusted by. */
export interface LawParameterSpec {
  name: string;
  /** What it sets, in a few words. */
  label: string;
  default: number;
  min: number;
  max: number;
  /** The values it can have, where it is no share. */
  choices?: readonly number[];
}

/**
 * A normalised rise f(τ) with f(0) = 0 and f(1) = 1 (VDI 2143 part 1), or an absolute piece between given ends.
 * `derivatives` gives f, f′, f″, f‴; to the right of a break unless τ = 1.
 */
export interface MotionLaw {
  /** Writes f, f′, f″, f‴ at τ in [0, 1] into `out`, at `offset` (four numbers). */
  derivatives(tau: number, out: Float64Array, offset: number): void;
  /** Places inside (0, 1) where f″ or f‴ is not smooth; sampling and integration stop there. */
  breaks: readonly number[];
  /** Places in [0, 1], the ends included, where f″ jumps, so that f‴ is infinite. */
  accelerationSteps: readonly number[];
  /** Places in [0, 1], the ends included, where f′ jumps against rest, so that f″ is infinite. */
  velocitySteps: readonly number[];
}

/**
 * Ends of a piece of motion over τ in [0, 1]: the rise, and speeds and accelerations with respect to τ
 * (velocity times the segment time, acceleration times its square).
 */
export interface LawEnds {
  rise: number;
  v0: number;
  v1: number;
  a0: number;
  a1: number;
}

/**
 * Tasks of VDI 2143 part 1, by what the motion does at its ends: R rest, G constant speed, U reversal (speed zero,
 * acceleration not), B any motion.
 */
export type MotionTask = 'R–R' | 'R–G' | 'G–G' | 'U–U' | 'B–B';

/** A law of the library: how it is called, when to take it, and how to make it. */
export interface LawFamily {
  id: string;
  name: string;
  /** Formula of the unit rise, in plain signs. */
  formula: string;
  /** When to take it and what to beware of, one sentence. */
  advice: string;
  /** Tasks it can do. */
  tasks: readonly MotionTask[];
  parameters: readonly LawParameterSpec[];
  make(parameters: LawParameters): MotionLaw;
  /**
   * The piece of this family between ends that move; absent where it knows rest only.
   * Accelerations at the ends are met where `meetsAcceleration` says so.
   */
  between?(ends: LawEnds, parameters: LawParameters): MotionLaw;
  meetsAcceleration?: boolean;
}
