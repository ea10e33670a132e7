import type RAPIER from '@dimforge/rapier2d-compat';

type Engine = typeof RAPIER;

let loading: Promise<void> | null = null;
let loaded: Engine | null = null;

/** Loads the physics library (Rapier, WebAssembly) once; contact computations need it, other machines do without. */
export function loadContact(): Promise<void> {
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
