// Shapes: reading files, distances of large skins, clearances over a run, drawings of a view, and what all of it weighs in memory.
import {
  addJoint,
  addPlate,
  bodyPoint,
  clearancesOver,
  groundPoint,
  newDrive,
  newMachine,
  simulate,
  VIEWS,
  writeView,
} from '@yoke/core';
import { rotationOf, UNTURNED } from '@yoke/core/geometry';
import { examined, readGeometry, writeGltf, writeStl, type StepKernel } from '@yoke/core/geometry-file';
import {
  clearanceOf,
  ClearanceSolid,
  distanceAtLeast,
  joined,
  ownMesh,
  triangleCount,
  type Mesh,
} from '@yoke/core/solid';
import { readFileSync } from 'node:fs';
import makeKernel from 'occt-import-js';
import { BoxTree } from '../packages/core/src/solid/box-tree';
import { triangleDistance } from '../packages/core/src/solid/triangle-distance';
import { median } from './median';

const ms = async (call: () => unknown): Promise<number> => {
  const started = performance.now();
  await call();
  return performance.now() - started;
};
const least = async (call: () => unknown, rounds = 3): Promise<number> => {
  const times: number[] = [];
  for (let i = 0; i < rounds; i++) times.push(await ms(call));
  return Math.min(...times);
};
/** A ball of about so many triangles. */
function ball(radius: number, triangles: number): Mesh {
  // A full circle of n corners gives about n² triangles.
  const corners = Math.sqrt(triangles);
  return ownMesh({ kind: 'ball', radius }, radius * (1 - Math.cos(Math.PI / corners)));
}
const moved = (mesh: Mesh, by: readonly number[]): Mesh => ({ points: mesh.points.map((own, i) => own + by[i % 3]!), triangles: mesh.triangles }); // prettier-ignore
const round = (value: number, digits = 3) => Number(value.toPrecision(digits)).toLocaleString('en-GB');

/** Time per 100,000 triangles of each kind of file, beside taking the same bytes apart with nothing made of them. */
async function imports(): Promise<void> {
  const solids = Array.from({ length: 40 }, (_, i) => moved(ball(0.02, 2500), [0.05 * i, 0, 0]));
  const all = solids.reduce((sum, mesh) => sum + triangleCount(mesh), 0);
  const share = 1e5 / all;
  const frames = [solids.map(() => ({ at: [0, 0, 0] as const, axes: UNTURNED }))];
  const drawn = solids.map((mesh, i) => ({ name: `Part ${i + 1}`, colour: '#808080', mesh }));
  const obj = solids.map((mesh, i) => `o Part ${i + 1}\n${objOf(mesh, i * (mesh.points.length / 3))}`).join('\n');
  const files: [string, Uint8Array][] = [
    ['a.glb', await writeGltf('All', drawn, { times: [0], frames })],
    ['a.stl', writeStl(joined(solids), 'All')],
    ['a.obj', new TextEncoder().encode(obj)],
  ];
  const none = () => Promise.reject(new Error('no STEP here'));
  for (const [name, content] of files) {
    const bytes = await least(() => {
      let sum = 0;
      for (const byte of content) sum += byte;
      return sum;
    });
    const reading = await least(() => readGeometry(content, name, none));
    const geometry = await readGeometry(content, name, none);
    const looking = await ms(() => examined(geometry));
    console.log(
      `import of ${name.slice(2).toUpperCase()}, per 100,000 triangles: read in ${round(reading * share)} ms, looked through (closed? crossing? mass) in ${round(looking * share)} ms; going over its ${round((content.length * share) / 1e6)} MB alone ${round(bytes * share)} ms; ratio ${round((reading + looking) / bytes)}`,
    );
  }
  const kernel = await makeKernel({ print: () => undefined, printErr: () => undefined });
  const step = new Uint8Array(readFileSync('demo/plug-gantry.step'));
  const once = { linearUnit: 'meter', linearDeflectionType: 'bounding_box_ratio', linearDeflection: 0.001, angularDeflection: 0.3 } as const; // prettier-ignore
  const alone = await least(() => (kernel as StepKernel).ReadStepFile(step, once));
  const whole = await least(async () => examined(await readGeometry(step, 'a.step', () => Promise.resolve(kernel))));
  console.log(
    `import of STEP, the gantry of the demonstration: ${round(whole)} ms with all that is looked at; its kernel alone ${round(alone)} ms; ratio ${round(whole / alone)}`,
  );
}
function objOf({ points, triangles }: Mesh, before: number): string {
  const lines: string[] = [];
  for (let i = 0; i < points.length; i += 3) lines.push(`v ${points[i]} ${points[i + 1]} ${points[i + 2]}`);
  for (let t = 0; t < triangles.length; t += 3) lines.push(`f ${[0, 1, 2].map((k) => triangles[t + k]! + 1 + before).join(' ')}`); // prettier-ignore
  return lines.join('\n');
}

/** Two skins of 50,000 triangles: the exact distance beside that of the balls and boxes about them, and every triangle with every other. */
function distances(): void {
  const mesh = ball(0.1, 50_000);
  const [a, b] = [new ClearanceSolid(mesh), new ClearanceSolid(mesh)];
  const turn = rotationOf([0.9, 0.2, -0.3, 0.1]);
  for (const [words, away] of [
    ['1 mm apart', 0.201],
    ['0.3 m apart', 0.5],
    ['one through the other', 0.15],
  ] as const) {
    const [here, there] = [{ at: [0, 0, 0] as const, axes: UNTURNED }, { at: [away, 0.001, 0.0005] as const, axes: turn }]; // prettier-ignore
    const exact = median(() => clearanceOf(a, here, b, there), 20);
    const boxes = median(() => distanceAtLeast(a, here, b, there), 2000);
    console.log(
      `distance of two skins of ${triangleCount(mesh).toLocaleString('en-GB')} triangles, ${words}: ${round(exact)} ms; by the balls about them ${round(boxes * 1000)} µs; ratio ${round(exact / boxes)}`,
    );
  }
  const few = 300;
  const [one, other] = [new Float64Array(9), new Float64Array(9)];
  const corner = (t: number, out: Float64Array) => {
    for (let c = 0; c < 3; c++) for (let k = 0; k < 3; k++) out[3 * c + k] = mesh.points[3 * mesh.triangles[3 * t + c]! + k]!; // prettier-ignore
  };
  const brute = median(() => {
    for (let i = 0; i < few; i++)
      for (let k = 0; k < few; k++) {
        corner(i, one);
        corner(20_000 + k, other);
        triangleDistance(one, other, Infinity);
      }
  }, 3);
  const scaled = brute * (triangleCount(mesh) / few) ** 2;
  const near = median(() => clearanceOf(a, { at: [0, 0, 0], axes: UNTURNED }, b, { at: [0.201, 0.001, 0.0005], axes: turn }), 20); // prettier-ignore
  const built = median(() => new BoxTree(mesh), 3);
  console.log(
    `every triangle with every other would take ${round(scaled / 1000)} s (scaled up from ${few} by ${few}); ratio ${round(near / scaled)} for 1 mm apart; its tree of boxes is made once in ${round(built)} ms`,
  );
}

/** A machine of seven balls of many triangles that slide past each other. */
function sliders() {
  const machine = newMachine('Sliders');
  machine.step = 0.001;
  machine.cycle = { given: 'time', time: 1 };
  const m = machine.mechanism;
  const solids = new Map<string, ClearanceSolid>();
  for (let i = 0; i < 7; i++) {
    const y = 0.08 * i;
    const body = addPlate(m, [[0, y], [0.02, y], [0.02, y + 0.02], [0, y + 0.02]], `Block ${i + 1}`); // prettier-ignore
    const slide = addJoint(m, 'slide', groundPoint(m, [0, y]), bodyPoint(m, body.id, [0, y]), { direction: 0 });
    machine.axes.push(newDrive(machine, slide, 0, i % 2 === 0 ? 0.2 : -0.2));
    solids.set(body.id, new ClearanceSolid(moved(ball(0.035, 5000), [0.01, 0, 0])));
  }
  return { machine, solids };
}

function wholeCycle(): void {
  const { machine, solids } = sliders();
  const ids = [...solids.keys()];
  const pairs = ids.flatMap((a, i) => ids.slice(i + 1).map((b) => [a, b] as const)).slice(0, 20);
  const run = simulate(machine);
  const running = median(() => simulate(machine), 3);
  for (const curves of [false, true]) {
    const over = median(() => clearancesOver(machine.mechanism, run, pairs, solids, { curves }), 3);
    console.log(
      `clearances of ${pairs.length} pairs of ${triangleCount([...solids.values()][0]!.mesh).toLocaleString('en-GB')} triangles over ${run.times.length.toLocaleString('en-GB')} poses${curves ? ', with curves' : ', the nearest moment of each'}: ${round(over)} ms; the run itself ${round(running)} ms; ratio ${round(over / running)}`,
    );
  }
}

/** A drawing of a view with hidden lines of 100,000 triangles, beside the same skins written as STL. */
async function views(): Promise<void> {
  const solids = Array.from({ length: 40 }, (_, i) => ({
    name: `Part ${i + 1}`,
    mesh: moved(ball(0.03, 2500), [0.05 * (i % 8), 0.05 * Math.floor(i / 8), 0.04 * (i % 3)]),
  }));
  const drawing = await least(() => writeView(solids, VIEWS.front.axes, true));
  const stl = await least(() => writeStl(joined(solids.map(({ mesh }) => mesh)), 'All'));
  console.log(
    `a view of ${solids.reduce((sum, { mesh }) => sum + triangleCount(mesh), 0).toLocaleString('en-GB')} triangles as DXF with hidden lines: ${round(drawing)} ms; the same as STL ${round(stl)} ms; ratio ${round(drawing / stl)}`,
  );
}

/** What half a million triangles weigh, ready for clearances, beside their corners alone. */
function memory(): void {
  globalThis.gc?.();
  const held = () => {
    const { heapUsed, arrayBuffers } = process.memoryUsage();
    return heapUsed + arrayBuffers;
  };
  const before = held();
  const solids = Array.from({ length: 200 }, () => new ClearanceSolid(ball(0.05, 2500)));
  globalThis.gc?.();
  const whole = held() - before;
  const alone = solids.reduce((sum, { mesh }) => sum + mesh.points.byteLength + mesh.triangles.byteLength, 0);
  const count = solids.reduce((sum, { mesh }) => sum + triangleCount(mesh), 0);
  console.log(
    `memory of 200 solids of ${count.toLocaleString('en-GB')} triangles, ready for clearances: ${round(whole / 1e6)} MB; their corners and triangles alone ${round(alone / 1e6)} MB; ratio ${round(whole / alone)}`,
  );
}

export async function benchShapes(): Promise<void> {
  await imports();
  distances();
  wholeCycle();
  await views();
  memory();
}
