// What the physics library alone needs for a cycle: the same bodies, colliders, joints, leads and steps, carried out
// again by nothing but its own calls, with the places of what moves read after each step: no use of it can do
// without.
import type RAPIER from '@dimforge/rapier2d-compat';
import type { ImpulseJoint, PrismaticImpulseJoint, RigidBody, World } from '@dimforge/rapier2d-compat';
import { gravityOf, simulateCycle, type Machine } from '@yoke/core';

type Library = typeof RAPIER;
/** A call on the library as it was made, to be made again on what stands for its objects in another world. */
type Call = (world: World, twin: <T extends object>(original: T) => T, twins: Map<object, object>) => void;

/** The calls of a cycle on the library, the settings of its world, and where what moves got to in all. */
interface Script {
  calls: Call[];
  settings: { dt: number; numSolverIterations: number; lengthUnit: number };
  places: number;
}

/** Sum of the places of what moves after a step: read by any use of the library, and the same where the scene is. */
function placesOf({ bodies, islands }: Pick<World, 'bodies' | 'islands'>): number {
  let sum = 0;
  bodies.forEachActiveRigidBody(islands, (body) => {
    if (body.isDynamic()) sum += body.translation().x + body.rotation();
  });
  return sum;
}

/** What was made with one copy of the library, made anew for another one. */
function remade<T extends object>(made: T, from: Library, to: Library): T {
  const twin = { ...made };
  const known = Object.entries(from).find(([, value]: [string, unknown]) => value === made.constructor)?.[0];
  const home: unknown = known === undefined ? Object : Reflect.get(to, known);
  if (typeof home === 'function') Reflect.setPrototypeOf(twin, Reflect.get(home, 'prototype'));
  for (const [key, value] of Object.entries(twin)) if (isMade(value)) Reflect.set(twin, key, remade(value, from, to));
  return twin;
}

/** Whether a value belongs to one copy of the library, rather than being numbers alone. */
const isMade = (value: unknown): value is object =>
  typeof value === 'object' && value !== null && !ArrayBuffer.isView(value) && !Array.isArray(value);

/** The library once more, beside the copy that cycles use. */
async function anotherCopy(): Promise<Library> {
  const module: unknown = await import(`${import.meta.resolve('@dimforge/rapier2d-compat')}?alone`);
  if (!hasLibrary(module)) throw new Error('the physics library cannot be loaded a second time');
  await module.default.init();
  return module.default;
}
const hasLibrary = (module: unknown): module is { default: Library } =>
  typeof module === 'object' && module !== null && 'default' in module;

/**
 * Writes down all calls that a cycle makes on the library, to be made on a copy of it: hooks that were once put into
 * its classes make it slower ever after.
 */
function scriptOf(RAPIER: Library, machine: Machine, copy: Library): Script {
  const script: Script = { calls: [], settings: { dt: 0, numSolverIterations: 0, lengthUnit: 0 }, places: 0 };
  const { calls } = script;
  const used: { world: World | null } = { world: null };
  const undo: (() => void)[] = [];
  const patch = <O extends object, K extends keyof O>(on: O, name: K, make: (original: O[K]) => O[K]): void => {
    const original = on[name];
    on[name] = make(original);
    undo.push(() => (on[name] = original));
  };
  const worlds = RAPIER.World.prototype;
  patch(
    worlds,
    'createRigidBody',
    (original) =>
      function (this: World, desc) {
        Object.assign(used, { world: this });
        const made = original.call(this, desc);
        const same = remade(desc, RAPIER, copy);
        calls.push((world, _, twins) => twins.set(made, world.createRigidBody(same)));
        return made;
      },
  );
  patch(
    worlds,
    'createCollider',
    (original) =>
      function (this: World, desc, parent) {
        const same = remade(desc, RAPIER, copy);
        calls.push((world, twin) => world.createCollider(same, parent && twin(parent)));
        return original.call(this, desc, parent);
      },
  );
  patch(
    worlds,
    'createImpulseJoint',
    (original) =>
      function (this: World, data, a, b, wake) {
        const made = original.call(this, data, a, b, wake);
        const same = remade(data, RAPIER, copy);
        calls.push((world, twin, twins) => twins.set(made, world.createImpulseJoint(same, twin(a), twin(b), wake)));
        return made;
      },
  );
  patch(
    worlds,
    'removeRigidBody',
    (original) =>
      function (this: World, body) {
        calls.push((world, twin) => world.removeRigidBody(twin(body)));
        original.call(this, body);
      },
  );
  patch(
    worlds,
    'removeImpulseJoint',
    (original) =>
      function (this: World, joint, wake) {
        calls.push((world, twin) => world.removeImpulseJoint(twin(joint), wake));
        original.call(this, joint, wake);
      },
  );
  const bodies = RAPIER.RigidBody.prototype;
  for (const name of ['setNextKinematicTranslation', 'setNextKinematicRotation', 'setTranslation'] as const)
    patch(
      bodies,
      name,
      (original) =>
        function (this: RigidBody, ...args: unknown[]) {
          const given = structuredClone(args);
          calls.push((_, twin) => Reflect.apply(twin(this)[name], twin(this), given));
          return Reflect.apply(original, this, args);
        } as typeof original,
    );
  const motors = RAPIER.PrismaticImpulseJoint.prototype;
  for (const name of ['configureMotorModel', 'configureMotorPosition'] as const)
    patch(
      motors,
      name,
      (original) =>
        function (this: PrismaticImpulseJoint, ...args: unknown[]) {
          calls.push((_, twin) => Reflect.apply(twin(this)[name], twin(this), args));
          return Reflect.apply(original, this, args);
        } as typeof original,
    );
  patch(
    RAPIER.ImpulseJoint.prototype,
    'setContactsEnabled',
    (original) =>
      function (this: ImpulseJoint, on) {
        calls.push((_, twin) => twin(this).setContactsEnabled(on));
        original.call(this, on);
      },
  );
  const pipeline = new RAPIER.PhysicsPipeline();
  const raw = Object.getPrototypeOf(pipeline.raw) as typeof pipeline.raw;
  pipeline.free();
  patch(
    raw,
    'step',
    (original) =>
      function (this: typeof raw, ...args) {
        calls.push(step);
        original.apply(this, args);
        const { dt, numSolverIterations, lengthUnit } = used.world!.integrationParameters;
        script.settings = { dt, numSolverIterations, lengthUnit };
        script.places += placesOf(used.world!);
      },
  );
  try {
    simulateCycle(machine);
  } finally {
    for (const one of undo) one();
  }
  return script;
}

let places = 0;

const step: Call = (world) => {
  world.step();
  places += placesOf(world);
};

/** The shortest time of some, ms. */
function shortest(times: number, run: () => void): number {
  let best = Infinity;
  for (let i = 0; i < times; i++) {
    const begun = performance.now();
    run();
    best = Math.min(best, performance.now() - begun);
  }
  return best;
}

/**
 * Times of a cycle and of the library alone for the same, one after the other in one process; the classes of the
 * library that cycles use are hooked into between them, so nothing else should be timed afterwards.
 * @returns the shortest of each, ms
 * @throws Error where what moves does not get to the same places
 */
export async function overLibrary(machine: Machine, times: number): Promise<{ cycle: number; library: number }> {
  const { default: RAPIER } = await import('@dimforge/rapier2d-compat');
  const copy = await anotherCopy();
  const cycle = shortest(times, () => simulateCycle(machine));
  const script = scriptOf(RAPIER, machine, copy);
  return { cycle, library: shortest(times, () => replay(copy, machine, script)) };
}

function replay(RAPIER: Library, machine: Machine, { calls, settings, places: wanted }: Script): void {
  const [x, y] = gravityOf(machine.mechanism);
  const world = new RAPIER.World({ x, y });
  Object.assign(world.integrationParameters, settings);
  places = 0;
  const twins = new Map<object, object>();
  const twin = <T extends object>(original: T): T => twins.get(original) as T;
  for (const call of calls) call(world, twin, twins);
  world.free();
  if (places !== wanted) throw new Error(`the library alone went elsewhere: ${places} instead of ${wanted}`);
}
