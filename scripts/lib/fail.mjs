/** A reason to stop that a person can act on; printed as one sentence, without a stack. */
export class Stop extends Error {}

/**
 * Runs a script's main function; a {@link Stop} becomes one sentence on standard error and exit code 1.
 * @param {() => Promise<void>} main
 */
export async function runScript(main) {
  try {
    await main();
  } catch (error) {
    console.error(error instanceof Stop ? `yoke: ${error.message}` : error);
    process.exit(1);
  }
}
