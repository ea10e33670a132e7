import RAPIER from '@dimforge/rapier2d-compat';

let loading: Promise<void> | null = null;
let loaded = false;

/** Loads the physics library (Rapier, WebAssembly) once; contact computations need it. */
export function loadContact(): Promise<void> {
  loading ??= RAPIER.init().then(() => {
    loaded = true;
  });
  return loading;
}

/** The physics library, made ready by {@link loadContact}. */
export function engine(): typeof RAPIER {
  if (!loaded) throw new Error('The contact computation is not loaded yet: await loadContact() first.');
  return RAPIER;
}
