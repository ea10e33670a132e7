import type RAPIER from '@dimforge/rapier3d-compat';

type Engine = typeof RAPIER;

let loading: Promise<void> | null = null;
let loaded: Engine | null = null;

/** Loads the physics library in space (Rapier, WebAssembly) once. */
export function loadSpaceContact(): Promise<void> {
  loading ??= import('@dimforge/rapier3d-compat').then(async ({ default: engineOf }) => {
    await engineOf.init();
    loaded = engineOf;
  });
  return loading;
}

/** The physics library in space, made ready by {@link loadSpaceContact}. */
export function spaceEngine(): Engine {
  if (!loaded) throw new Error('The contact computation in space is not loaded yet: await loadContact(machine) first.');
  return loaded;
}
