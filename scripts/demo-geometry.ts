/**
 * Makes the geometry of the demonstration's plug gantry: its STEP files, and the kept geometry and the solids of its
 * document. Invented: no part of it is that of a real machine. Run with `npx tsx scripts/demo-geometry.ts`.
 */
import { readdirSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { createHash } from 'node:crypto';
import { createRequire } from 'node:module';
import type occt from 'occt-import-js';
import {
  draw,
  drawCircle,
  drawRectangle,
  exportSTEP,
  makeBaseBox,
  makeCylinder,
  measureShapeVolumeProperties,
  setOC,
  type Shape3D,
} from 'replicad';
import openKernel from 'replicad-opencascadejs';
import { assignSolids, readMachineText, takeFile, UNASSIGNED, type Mechanism } from '@yoke/core';
import { examined, readGeometry } from '@yoke/core/geometry-file';
import { withBranches, type Branch } from './lib/step-branches';

// Asked for by its name: paths of the types lead elsewhere.
const makeKernel: typeof occt = createRequire(import.meta.url)('occt-import-js/dist/occt-import-js.js');
const demo = (name: string) => new URL(`../demo/${name}`, import.meta.url);

/** A box between two corners, mm. */
function box(
  [x0, y0, z0]: readonly [number, number, number],
  [x1, y1, z1]: readonly [number, number, number],
): Shape3D {
  return makeBaseBox(x1 - x0, y1 - y0, z1 - z0).translate((x0 + x1) / 2, (y0 + y1) / 2, z0);
}
const rod = (radius: number, length: number, at: [number, number, number], along: [number, number, number]) => makeCylinder(radius, length, at, along); // prettier-ignore

type Part = [name: string, body: string, colour: string, shape: Shape3D];
/** @param holder where the front of the label holder stands, mm along z: the lift passes it at −125 */
function gantry(holder: number): Part[] {
  const [steel, grey, blue, green, sand] = ['#9aa3a8', '#6f7a80', '#5b7fa6', '#6c8f5e', '#c2a878'];
  const rails = [-290, 290].map((z, i): Part => [`Line shaft ${i + 1}`, 'ground', steel, rod(12, 1090, [-130, 560, z], [1, 0, 0])]); // prettier-ignore
  const posts = [-130, 920].flatMap((x, i) => [-310, 270].map((z, k): Part => [`Post ${2 * i + k + 1}`, 'ground', grey, box([x, -120, z], [x + 40, 548, z + 40])])); // prettier-ignore
  const blocks = [-290, 290].map((z, i): Part => [
    `Bearing block ${i + 1}`,
    'Bridge',
    blue,
    box([-60, 530, z - 20], [60, 585, z + 20]).cut(rod(12.5, 140, [-70, 560, z], [1, 0, 0])),
  ]);
  const shafts = [500, 460].map((y, i): Part => [`Cross shaft ${i + 1}`, 'Bridge', steel, rod(8, 600, [72, y, -300], [0, 0, 1])]); // prettier-ignore
  const ends = [-310, 290].map((z, i): Part => [`Shaft holder ${i + 1}`, 'Bridge', blue, box([60, 445, z], [82, 515, z + 20])]); // prettier-ignore
  const glides = [500, 460].map((y, i): Part => [
    `Glide ${i + 1}`,
    'Carriage',
    sand,
    box([62, y - 14, -40], [90, y + 14, 40]).cut(rod(8.3, 100, [72, y, -50], [0, 0, 1])),
  ]);
  const finger = (x: number): Shape3D => box([x, 170, -7], [x + 8, 236, 7]);
  // An outline drawn and made thick: a plate for the label, on an arm that reaches in from beside the trays.
  const label = draw([-20, 0]).lineTo([20, 0]).lineTo([20, 80]).lineTo([0, 90]).lineTo([-20, 80]).close();
  const plate = (label.sketchOnPlane('XY').extrude(6) as Shape3D).translate(400, 300, holder - 6);
  const arm = box([390, 330, -200], [410, 350, holder - 3]).fuse(box([390, -120, -220], [410, 350, -200]));
  const supports = [30, 450].flatMap((x, i) => [-170, 150].map((z, k): Part => [`Tray support ${2 * i + k + 1}`, 'ground', grey, box([x, -120, z], [x + (i === 0 ? 240 : 340), -60, z + 20])])); // prettier-ignore
  return [
    ['Base plate', 'ground', grey, box([-150, -140, -330], [980, -120, 330])],
    ...supports,
    ...posts,
    ...rails,
    ['Label holder', 'ground', green, plate.fuse(arm)],
    ['Bridge beam', 'Bridge', blue, box([-60, 430, -310], [60, 530, 310])],
    ...blocks,
    ...shafts,
    ...ends,
    ['Carriage plate', 'Carriage', sand, box([90, 400, -60], [120, 560, 60])],
    ...glides,
    ['Lift beam', 'Lift', steel, box([125, 280, -25], [155, 680, 25]).cut(rod(6, 50, [140, 275, 0], [0, 1, 0]))],
    ['Head disc', 'Head', green, (drawCircle(40).sketchOnPlane('XZ').extrude(-30) as Shape3D).translate(140, 245, 0)],
    ['Head shaft', 'Head', steel, rod(5.8, 40, [140, 275, 0], [0, 1, 0])],
    [
      'Finger rail',
      'Head',
      steel,
      (drawRectangle(90, 8).sketchOnPlane('XZ').extrude(-8) as Shape3D).translate(140, 237, 0),
    ],
    ['Left finger', 'Left finger', sand, finger(112)],
    ['Right finger', 'Right finger', sand, finger(160)],
  ];
}

async function step(parts: readonly Part[]): Promise<Uint8Array> {
  const blob = exportSTEP(parts.map(([name, , color, shape]) => ({ name, color, shape })), { unit: 'MM', modelUnit: 'MM' }); // prettier-ignore
  const text = Buffer.from(await blob.arrayBuffer()).toString('latin1');
  // The same file whenever it is made.
  const dated = text.replace(/'\d{4}-\d\d-\d\dT\d\d:\d\d:\d\d'/, "'2026-12-01T00:00:00'");
  return Buffer.from(withBranches(dated, { name: 'Plug gantry', parts: branchesOf(parts) }), 'latin1');
}

/** As a workshop keeps its drawings: by how parts are made or had, and not by what moves together. */
function branchesOf(parts: readonly Part[]): Branch[] {
  const branchOf = (name: string) =>
    /^(?:Line shaft|Cross shaft|Bearing block|Shaft holder|Glide)/.test(name)
      ? 'Bought'
      : /^(?:Base plate|Tray support|Post|Label holder|Bridge beam)/.test(name)
        ? 'Welded'
        : 'Milled';
  const names = parts.map(([name]) => name);
  return ['Welded', 'Bought', 'Milled'].map((name) => ({ name, parts: names.filter((own) => branchOf(own) === name) }));
}

setOC(await openKernel());
const parts = gantry(-126.5);
writeFileSync(demo('plug-gantry.step'), await step(parts));
writeFileSync(demo('plug-gantry-mended.step'), await step(gantry(-160)));
// What the kernel that made them says they hold, to hold ours against: m³ and m.
const figures = parts.map(([name, , , shape]) => {
  const { volume, centerOfMass } = measureShapeVolumeProperties(shape);
  return {
    name,
    volume: Number((volume * 1e-9).toPrecision(12)),
    centre: centerOfMass.map((part) => Number((part * 1e-3).toFixed(12))),
  };
});
writeFileSync(new URL('../packages/core/test/kernel-figures.json', import.meta.url), `[\n${figures.map((own) => `  ${JSON.stringify(own)}`).join(',\n')}\n]\n`); // prettier-ignore

// The document takes them over: what moves together stands in the list above.
const kernel = () => makeKernel({ print: () => undefined, printErr: () => undefined });
const file = await examined(await readGeometry(readFileSync(demo('plug-gantry.step')), 'plug-gantry.step', kernel));
const hash = createHash('sha256').update(file.content).digest('hex');
for (const old of readdirSync(demo('geometry'))) rmSync(demo(`geometry/${old}`));
writeFileSync(demo(`geometry/${hash}.glb`), file.content);
const read = readMachineText(readFileSync(demo('plug-gantry.yoke.json'), 'utf8'));
if (!read.ok) throw new Error('The document of the gantry cannot be read.');
const { machine } = read;
const m: Mechanism = machine.mechanism;
delete m.shapes;
const masses = new Map(m.bodies.map((body) => [body.id, body.mass]));
for (const body of m.bodies) delete body.solids;
takeFile(m, { name: 'plug-gantry.step', hash, solids: file.solids });
for (const carrier of new Set(parts.map(([, body]) => body))) {
  const names = parts.filter(([, body]) => body === carrier).map(([name]) => name);
  const refs = m
    .shapes!.unassigned.filter(({ name }) => names.includes(name))
    .map(({ id }) => ({ carrier: UNASSIGNED, id }));
  if (refs.length !== names.length) throw new Error(`Of ${carrier} ${refs.length} solids came, of ${names.length}.`);
  assignSolids(m, refs, carrier === 'ground' ? carrier : m.bodies.find(({ name }) => name === carrier)!.id);
}
// Trays hang so low that the fingers reach into them and the head does not.
for (const body of m.bodies) if (/tray$/.test(body.name)) body.level = -0.045;
const idOf = (name: string) => m.bodies.find((body) => body.name === name)!.id;
const trays = ['Nursery tray', 'Pot tray'].map(idOf);
machine.clearances = {
  watches: [],
  byDesign: [
    ...trays.map((tray): [string, string] => [tray, 'ground']),
    ...['Left finger', 'Right finger'].flatMap((finger) => trays.map((tray): [string, string] => [idOf(finger), tray])),
  ],
};
// Its masses are those that were weighed, with what is no solid here.
for (const body of m.bodies) body.mass = masses.get(body.id)!;
writeFileSync(demo('plug-gantry.yoke.json'), `${JSON.stringify(machine, null, 2)}\n`);
console.log(`${file.solids.length} solids, ${file.content.length} bytes kept as ${hash.slice(0, 12)}…`);
for (const { name, problem } of file.solids) if (problem) console.log(name, problem);
