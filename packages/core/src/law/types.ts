/** Parameters of an adjustable law, by name; all are shares of the rise time. */
export type LawParameters = Readonly<Record<string, number>>;

/** One parameter a law can be adjusted by. */
export interface LawParameterSpec {
  name: string;
  /** What it sets, in a few words. */
  label: string;
  default: number;
  min: number;
  max: number;
}

/**
 * A normalised rise f(τ) with f(0) = 0 and f(1) = 1 (VDI 2143 part 1).
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

/** A law of the library: how it is called, when to take it, and how to make it. */
export interface LawFamily {
  id: string;
  name: string;
  /** When to take it and what to beware of, one sentence. */
  advice: string;
  parameters: readonly LawParameterSpec[];
  make(parameters: LawParameters): MotionLaw;
}
