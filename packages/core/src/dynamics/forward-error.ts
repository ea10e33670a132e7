/** A forward run that cannot go on; the message says at which time and why. */
export class ForwardError extends Error {
  override name = 'ForwardError';
  readonly time: number;
  readonly reason: 'singular' | 'stiff';

  constructor(time: number, reason: 'singular' | 'stiff') {
    super(`${reason} at ${time} s`);
    this.time = time;
    this.reason = reason;
  }
}
