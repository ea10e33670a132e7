/** From asking for a picture to drawing it, ms: slower than this is slow, and so much is felt at once. */
const SLOW = 80;
const FELT = 400;
/** Slow pictures in a row until a machine counts as slow. */
const IN_A_ROW = 3;
/** Without a new picture for so long the view stands still, ms. */
const STILL = 300;

/** Tells whether pictures must be coarser to follow each other: they are where they were slow before, until the view stands still. */
export class Pace {
  private slow = 0;
  private isSlow = false;
  private settling = false;
  private timer: ReturnType<typeof setTimeout> | null = null;

  /** @param ask for the picture of a view that stands still */
  constructor(private readonly ask: () => void) {}

  /**
   * Before a picture is drawn.
   * @param waited since it was asked for, ms
   * @returns whether it is to be a coarse one
   */
  next(waited: number): boolean {
    this.end();
    if (this.settling) {
      this.settling = false;
      return false;
    }
    this.slow = waited > SLOW ? this.slow + 1 : 0;
    this.isSlow ||= this.slow >= IN_A_ROW || waited > FELT;
    return this.isSlow;
  }

  /** After a coarse picture: a whole one follows as soon as the view stands still. */
  settle(): void {
    this.end();
    this.timer = setTimeout(() => {
      this.timer = null;
      this.settling = true;
      this.ask();
    }, STILL);
  }

  end(): void {
    if (this.timer) clearTimeout(this.timer);
    this.timer = null;
  }
}
