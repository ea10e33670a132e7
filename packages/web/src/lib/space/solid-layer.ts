import { GROUND, rotationOf, UNASSIGNED, type BodySolid, type SolidRef, type Standing } from '@yoke/core';
import {
  BufferAttribute,
  BufferGeometry,
  Color,
  DoubleSide,
  Group,
  LineBasicMaterial,
  LineSegments,
  Matrix4,
  Mesh,
  MeshBasicMaterial,
  MeshLambertMaterial,
  type Intersection,
  type Object3D,
} from 'three';
import type { LoadedSolid } from '@/worker/shapes';
import { fade, type Showing } from './showing';

/** A solid with what it moves with, as it is drawn. */
export interface DrawnSolid {
  carrier: string;
  solid: BodySolid;
  /** Null while its geometry is not there. */
  loaded: LoadedSolid | null;
}

/** What was pressed on a solid. */
export interface SolidHit extends SolidRef {
  /** Triangle of its mesh. */
  triangle: number;
}

interface Looks {
  faces: BufferGeometry;
  edges: BufferGeometry;
  /** Of fewer triangles, on the same corners; null where it has few enough. */
  coarse: BufferGeometry | null;
}

interface Drawn extends Looks {
  mesh: Mesh<BufferGeometry, MeshLambertMaterial>;
  edge: LineSegments<BufferGeometry, LineBasicMaterial>;
  own: Matrix4;
  carrier: string;
  id: string;
}

/** Colours by what a solid moves with. */
export interface SolidColours {
  paper: string;
  ink: string;
  soft: string;
  attention: string;
  primary: string;
  things: Readonly<Record<string, string>>;
}

/** Geometry of a mesh as the graphics unit takes it: made once, shared by all that draw it. */
const known = new WeakMap<LoadedSolid, Looks>();
function geometryOf(loaded: LoadedSolid): Looks {
  const before = known.get(loaded);
  if (before) return before;
  const faces = new BufferGeometry();
  faces.setAttribute('position', new BufferAttribute(Float32Array.from(loaded.mesh.points), 3));
  faces.setIndex(new BufferAttribute(loaded.mesh.triangles, 1));
  const edges = new BufferGeometry().setAttribute('position', new BufferAttribute(loaded.edges, 3));
  const coarse = loaded.coarse && new BufferGeometry().setAttribute('position', faces.getAttribute('position'));
  coarse?.setIndex(new BufferAttribute(loaded.coarse!, 1));
  const made = { faces, edges, coarse };
  known.set(loaded, made);
  return made;
}

/** A layer that no eye sees. */
const UNSEEN = 1;

const keyOf = ({ carrier, id }: SolidRef) => `${carrier}/${id}`;

/** The true shapes of the machine. */
export class SolidLayer {
  readonly group = new Group();
  private readonly drawn = new Map<string, Drawn>();
  private readonly face = new Mesh(
    new BufferGeometry(),
    new MeshBasicMaterial({ transparent: true, opacity: 0.75, side: DoubleSide, depthTest: true }),
  );
  private lit: string | null = null;
  private colours: SolidColours = {
    paper: '#fff',
    ink: '#000',
    soft: '#888',
    attention: '#f80',
    primary: '#088',
    things: {},
  };

  constructor() {
    this.face.matrixAutoUpdate = false;
    this.face.visible = false;
    // In front of the face that it lies in.
    this.face.material.polygonOffset = true;
    this.face.material.polygonOffsetFactor = this.face.material.polygonOffsetUnits = -2;
  }

  /** What is drawn; poses follow by {@link stand}. Bodies whose solids are all there are given back. */
  show(solids: readonly DrawnSolid[], colours: SolidColours): Set<string> {
    this.colours = colours;
    this.group.clear();
    for (const { mesh, edge } of this.drawn.values()) {
      mesh.material.dispose();
      edge.material.dispose();
    }
    this.drawn.clear();
    this.light(null, null);
    const whole = new Set(solids.map(({ carrier }) => carrier));
    for (const { carrier, solid, loaded } of solids) {
      if (!loaded) {
        whole.delete(carrier);
        continue;
      }
      const looks = geometryOf(loaded);
      const { faces, edges } = looks;
      const material = new MeshLambertMaterial({ color: this.colourOf(carrier), side: DoubleSide, flatShading: true });
      material.polygonOffset = true;
      material.polygonOffsetFactor = material.polygonOffsetUnits = 1;
      const mesh = new Mesh(faces, material);
      const edge = new LineSegments(edges, new LineBasicMaterial({ color: colours.ink }));
      const r = rotationOf(solid.turn);
      const [x, y, z] = solid.at;
      const own = new Matrix4().set(r[0]!, r[1]!, r[2]!, x, r[3]!, r[4]!, r[5]!, y, r[6]!, r[7]!, r[8]!, z, 0, 0, 0, 1); // prettier-ignore
      for (const object of [mesh, edge]) object.matrixAutoUpdate = false;
      const ref = { carrier, id: solid.id };
      mesh.userData.ref = ref;
      this.drawn.set(keyOf(ref), { ...looks, mesh, edge, own, ...ref });
      this.group.add(mesh, edge);
    }
    this.group.add(this.face);
    return whole;
  }

  /** Ground is grey, what nobody said anything of stands out, all else has the colour of its body. */
  private colourOf(carrier: string): Color {
    const { paper, soft, attention, things } = this.colours;
    if (carrier === GROUND) return new Color(soft).lerp(new Color(paper), 0.55);
    if (carrier === UNASSIGNED) return new Color(attention).lerp(new Color(paper), 0.6);
    return new Color(things[carrier] ?? soft).lerp(new Color(paper), 0.35);
  }

  /** @param into the frame of a body of the standing machine, as a matrix */
  stand(standing: Standing, into: (frame: ReturnType<Standing['body']>, out: Matrix4) => Matrix4): void {
    const carrier = new Matrix4();
    for (const { mesh, edge, own, carrier: on } of this.drawn.values()) {
      if (on === GROUND || on === UNASSIGNED) mesh.matrix.copy(own);
      else mesh.matrix.multiplyMatrices(into(standing.body(on), carrier), own);
      edge.matrix.copy(mesh.matrix);
      mesh.matrixWorldNeedsUpdate = edge.matrixWorldNeedsUpdate = true;
    }
    const lit = this.lit && this.drawn.get(this.lit);
    if (lit) {
      this.face.matrix.copy(lit.mesh.matrix);
      this.face.matrixWorldNeedsUpdate = true;
    }
  }

  /** Lights up what is chosen, and shows the solids of a carrier whole, faintly or not at all. */
  mark(chosen: (ref: SolidRef) => boolean, showing: (carrier: string) => Showing): void {
    for (const { mesh, edge, carrier, id } of this.drawn.values()) {
      const isChosen = chosen({ carrier, id });
      for (const object of [mesh, edge]) fade(object, showing(carrier));
      edge.material.color.set(isChosen ? this.colours.attention : this.colours.ink);
      mesh.material.emissive.set(isChosen ? this.colours.attention : '#000000');
      mesh.material.emissiveIntensity = 0.3;
    }
  }

  /** Draws solids of many triangles by fewer, without their edges, or whole again. @returns whether there are any */
  coarsen(isCoarse: boolean): boolean {
    let found = false;
    for (const { mesh, edge, faces, coarse } of this.drawn.values()) {
      if (!coarse) continue;
      found = true;
      mesh.geometry = isCoarse ? coarse : faces;
      // Whether it is shown at all is a matter of its layer's owner.
      edge.layers.set(isCoarse ? UNSEEN : 0);
    }
    return found;
  }

  /** Lights up triangles of a solid, or none. */
  light(ref: SolidRef | null, triangles: readonly number[] | null): void {
    const own = ref && this.drawn.get(keyOf(ref));
    this.face.geometry.dispose();
    this.face.visible = Boolean(own && triangles);
    this.lit = own ? keyOf(ref) : null;
    if (!own || !triangles) return;
    const index = own.faces.index!.array;
    const geometry = new BufferGeometry().setAttribute('position', own.faces.getAttribute('position'));
    geometry.setIndex(triangles.flatMap((t) => [index[3 * t]!, index[3 * t + 1]!, index[3 * t + 2]!]));
    this.face.geometry = geometry;
    this.face.material.color.set(this.colours.primary);
    this.face.matrix.copy(own.mesh.matrix);
    this.face.matrixWorldNeedsUpdate = true;
  }

  /** What can be pressed. */
  targets(): Object3D[] {
    return [...this.drawn.values()].flatMap(({ mesh }) => (mesh.visible ? [mesh] : []));
  }

  /** The solid that a ray met. */
  hitOf({ object, faceIndex }: Intersection): SolidHit | null {
    const ref = object.userData.ref as SolidRef | undefined;
    return ref && typeof faceIndex === 'number' ? { ...ref, triangle: faceIndex } : null;
  }

  /** Solids with the middles of the boxes about them, in the world. */
  middles(): { ref: SolidRef; at: [number, number, number] }[] {
    return [...this.drawn.values()]
      .filter(({ mesh }) => mesh.visible)
      .map(({ mesh, faces, carrier, id }) => {
        faces.computeBoundingSphere();
        const at = faces.boundingSphere!.center.clone().applyMatrix4(mesh.matrix);
        return { ref: { carrier, id }, at: at.toArray() };
      });
  }
}
