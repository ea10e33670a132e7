import type RAPIER from '@dimforge/rapier2d-compat';
import type { World } from '@dimforge/rapier2d-compat';
import { loadSpaceContact } from './space/engine';

type Engine = typeof RAPIER;

let loading: Promise<void> | null = null;
let loaded: Engine | null = null;

/**
 * Loads the physics library (Rapier, WebAssembly) once; contact computations need it, other machines do without.
 * @param machine one whose parts move in space needs the library in space
 */
export function loadContact(machine?: { loose: { space?: true | undefined } }): Promise<void> {
  if (machine?.loose.space) return loadSpaceContact();
  loading ??= import('@dimforge/rapier2d-compat').then(async ({ default: engineOf }) => {
    await engineOf.init();
    loaded = engineOf;
  });
  return loading;
}

/** The physics library, made ready by {@link loadContact}. */
export function engine(): Engine {
  if (!loaded) throw new Error('The contact computation is not loaded yet: await loadContact() first.');
  return loaded;
}

/** A contact computation that cannot be made; the message names the part or body and what to do. */
export class ContactError extends Error {
  override name = 'ContactError';
}

/** Makes the shape of something; what is wrong with it is told with its name. */
export function named<T>(what: string, make: () => T): T {
  try {
    return make();
  } catch (error) {
    const { name, message } = error as Error;
    if (name !== 'OutlineError') throw error;
    throw new ContactError(`${what}: ${message.charAt(0).toLowerCase()}${message.slice(1)}`);
  }
}

/** Does something in the physics library; where the library gives up, says so with the time. */
export function inLibrary<T>(time: number, act: () => T): T {
  try {
    return act();
  } catch (error) {
    if (!(error instanceof Error) || error.name !== 'RuntimeError') throw error;
    throw new ContactError(
      `The contact computation gave up at ${Number(time.toPrecision(6))} s: parts or surfaces differ too much in size, or move too fast for the contact step. Look at the sizes and speeds of what is near a part then.`,
    );
  }
}

/**
 * Moves a world on step by step. The library's own step also looks through all bodies and colliders for new ones, and
 * carries gravity over each time; here none come to be but by calls that tell of them, and gravity stays.
 */
export class Stepper {
  private readonly gravity;

  constructor(private readonly world: World) {
    this.gravity = engine().VectorOps.intoRaw(world.gravity);
  }

  step(): void {
    const { world } = this;
    world.physicsPipeline.raw.step(
      this.gravity,
      world.integrationParameters.raw,
      world.islands.raw,
      world.broadPhase.raw,
      world.narrowPhase.raw,
      world.bodies.raw,
      world.colliders.raw,
      world.softBodies.raw,
      world.impulseJoints.raw,
      world.multibodyJoints.raw,
      world.ccdSolver.raw,
    );
  }

  /** Frees the memory of the library. */
  free(): void {
    this.gravity.free();
    this.world.free();
  }
}
