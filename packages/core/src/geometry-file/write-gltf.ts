import { Document, WebIO } from '@gltf-transform/core';
import { quaternionOf, type Point3, type Rotation } from '../geometry';
import type { Mesh } from '../solid';

/** How something stands: its origin, m, and its axes by rows. */
interface Frame {
  at: Point3;
  axes: Rotation;
}

/** A body as it goes into a file: its skin in its own frame. */
export interface DrawnBody {
  name: string;
  /** #rrggbb */
  colour: string;
  mesh: Mesh;
}

/** How all bodies stand at some times, s: by time and body. */
export interface DrawnMotion {
  times: readonly number[];
  frames: readonly (readonly Frame[])[];
}

/** A share of light of a colour as screens have it (sRGB, IEC 61966-2-1), as the format wants it. */
const linear = (share: number) => (share <= 0.04045 ? share / 12.92 : ((share + 0.055) / 1.055) ** 2.4);

/**
 * Writes bodies as GLB (glTF 2.0, metres, y up): a node for each by its name, standing as in the first of the times;
 * with more than one, an animation of its place and turn.
 */
export async function writeGltf(
  name: string,
  bodies: readonly DrawnBody[],
  { times, frames }: DrawnMotion,
): Promise<Uint8Array<ArrayBuffer>> {
  // prettier-ignore
  const document = new Document();
  document.getRoot().getAsset().generator = 'Yoke';
  const buffer = document.createBuffer();
  const scene = document.createScene(name);
  const accessor = (type: 'SCALAR' | 'VEC3' | 'VEC4', array: Float32Array | Uint32Array) =>
    document.createAccessor().setType(type).setArray(array).setBuffer(buffer);
  const moves = times.length > 1;
  const animation = moves ? document.createAnimation('Cycle') : null;
  const input = moves ? accessor('SCALAR', Float32Array.from(times)) : null;
  bodies.forEach((body, i) => {
    const shares = [1, 3, 5].map((k) => linear(parseInt(body.colour.slice(k, k + 2), 16) / 255));
    const material = document
      .createMaterial(body.name)
      .setBaseColorFactor([shares[0]!, shares[1]!, shares[2]!, 1])
      .setMetallicFactor(0)
      .setRoughnessFactor(0.8);
    const primitive = document
      .createPrimitive()
      .setAttribute('POSITION', accessor('VEC3', Float32Array.from(body.mesh.points)))
      .setIndices(accessor('SCALAR', Uint32Array.from(body.mesh.triangles)))
      .setMaterial(material);
    const node = document.createNode(body.name).setMesh(document.createMesh(body.name).addPrimitive(primitive));
    scene.addChild(node);
    const places = new Float32Array(3 * times.length);
    const turns = new Float32Array(4 * times.length);
    let before: number[] | null = null;
    times.forEach((_, k) => {
      const frame = frames[k]![i]!;
      places.set(frame.at, 3 * k);
      const [w, x, y, z] = quaternionOf(frame.axes);
      let turn: number[] = [x, y, z, w];
      // The near one of the two quaternions of a turn, so that it goes the short way round.
      if (before && turn.reduce((sum, part, n) => sum + part * before![n]!, 0) < 0) turn = turn.map((part) => -part);
      before = turn;
      turns.set(turn, 4 * k);
    });
    node.setTranslation([places[0]!, places[1]!, places[2]!]);
    node.setRotation([turns[0]!, turns[1]!, turns[2]!, turns[3]!]);
    if (!animation || !input) return;
    const add = (path: 'translation' | 'rotation', output: Float32Array, type: 'VEC3' | 'VEC4') => {
      const sampler = document.createAnimationSampler().setInput(input).setOutput(accessor(type, output)).setInterpolation('LINEAR'); // prettier-ignore
      animation.addSampler(sampler).addChannel(document.createAnimationChannel().setTargetNode(node).setTargetPath(path).setSampler(sampler)); // prettier-ignore
    };
    const still = (values: Float32Array, size: number) => values.every((value, k) => value === values[k % size]);
    if (!still(places, 3)) add('translation', places, 'VEC3');
    if (!still(turns, 4)) add('rotation', turns, 'VEC4');
  });
  return new Uint8Array(await new WebIO().writeBinary(document));
}
