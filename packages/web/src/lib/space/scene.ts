import type { Mesh as SolidMesh } from '@yoke/core/solid';
import { GROUND, standingOf, type Frame, type Mechanism, type Pose, type SolidRef } from '@yoke/core';
import type { Matrix4 } from 'three';
import {
  AmbientLight,
  Box3,
  BufferAttribute,
  BufferGeometry,
  Color,
  DirectionalLight,
  DoubleSide,
  EdgesGeometry,
  Float32BufferAttribute,
  Group,
  Line,
  LineBasicMaterial,
  LineSegments,
  Mesh,
  MeshLambertMaterial,
  Raycaster,
  Scene,
  Vector3,
  WebGLRenderer,
  type Material,
} from 'three';
import { arrowMesh, dropArrow, type SceneArrow } from './arrows';
import { SceneEye } from './eye';
import { directionMarks, type DirectionMark, type DrivenAxis } from './directions';
import { LooseGroup, type LooseThings } from './loose';
import { marksOf, type Mark } from './marks';
import { Pace } from './pace';
import { sheetsOf } from './sheets';
import { fade, fainter, type Showing, type ShownKinds } from './showing';
import { SolidLayer, type DrawnSolid, type SolidHit } from './solid-layer';
import { solidOf } from './solids';

/** Colours of a picture, as CSS has them. */
export interface SceneColours {
  paper: string;
  ink: string;
  soft: string;
  attention: string;
  primary: string;
  /** By body and joint. */
  things: Readonly<Record<string, string>>;
}

/** What is laid over the machine: ways of points, arrows of forces and speeds, m. */
export interface SceneExtras {
  traces: readonly (readonly (readonly [number, number, number])[])[];
  arrows: readonly SceneArrow[];
}

/** A place on a body that was pointed at. */
export interface Hit {
  /** A body, or what carries a solid: “ground”, or “unassigned”. */
  body: string;
  at: [number, number, number];
  /** The solid that was met, where it was one. */
  solid: SolidHit | null;
}

const matrixOf = ({ at, axes }: Frame, out: Matrix4): Matrix4 =>
  out.set(axes[0]!, axes[1]!, axes[2]!, at[0], axes[3]!, axes[4]!, axes[5]!, at[1], axes[6]!, axes[7]!, axes[8]!, at[2], 0, 0, 0, 1); // prettier-ignore

/** The machine in depth: solids, planes, joints. It is drawn only when something has changed. */
export class SpaceScene {
  private readonly renderer: WebGLRenderer;
  private readonly scene = new Scene();
  readonly eye: SceneEye;
  private readonly machine = new Group();
  private readonly extras = new Group();
  private readonly ghosts = new Group();
  private readonly loose = new LooseGroup();
  readonly solids = new SolidLayer();
  /** Bodies that are drawn by their solids. */
  private solid = new Set<string>();
  private readonly bodies = new Map<string, Mesh<BufferGeometry, MeshLambertMaterial>>();
  private readonly edges = new Map<string, LineSegments<BufferGeometry, LineBasicMaterial>>();
  private readonly sheets = new Map<string, Group>();
  private readonly veiled = new Mesh(
    new BufferGeometry(),
    new MeshLambertMaterial({ transparent: true, opacity: 0.28, side: DoubleSide, depthWrite: false }),
  );
  private readonly marks: Mark[] = [];
  private readonly directions: DirectionMark[] = [];
  private readonly raycaster = new Raycaster();
  private mechanism: Mechanism | null = null;
  private colours: SceneColours;
  private kinds: ShownKinds = {};
  private last = 0;
  private waiting = false;
  private readonly pace = new Pace(() => this.ask());
  private ended = false;
  /** Pictures drawn so far. */
  frames = 0;

  constructor(
    canvas: HTMLCanvasElement,
    colours: SceneColours,
    private readonly drawn: () => void = () => undefined,
  ) {
    this.colours = colours;
    this.renderer = new WebGLRenderer({ canvas, antialias: true, alpha: true, preserveDrawingBuffer: true });
    this.renderer.setPixelRatio(Math.min(2, devicePixelRatio));
    this.scene.add(new AmbientLight(0xffffff, 1.9), this.machine, this.extras, this.ghosts, this.loose.group, this.solids.group, this.veiled); // prettier-ignore
    const light = new DirectionalLight(0xffffff, 1.7);
    light.position.set(0.4, 1, 0.7);
    this.scene.add(light);
    this.eye = new SceneEye(canvas, () => this.bounds(), () => this.ask()); // prettier-ignore
  }

  /** What is drawn; poses follow by {@link stand}. */
  show(
    mechanism: Mechanism,
    colours: SceneColours,
    axes: readonly DrivenAxis[] = [],
    solids: readonly DrawnSolid[] = [],
  ): void {
    this.mechanism = mechanism;
    this.colours = colours;
    this.machine.clear();
    for (const { geometry } of this.bodies.values()) geometry.dispose();
    this.bodies.clear();
    this.edges.clear();
    this.sheets.clear();
    this.marks.length = 0;
    this.solid = this.solids.show(solids, colours);
    for (const body of mechanism.bodies) {
      const geometry = solidOf(body);
      const colour = new Color(colours.things[body.id] ?? colours.soft);
      const material = new MeshLambertMaterial({
        color: colour.lerp(new Color(colours.paper), 0.35),
        side: DoubleSide,
      });
      // Solids of one level lie in each other; lines are drawn a hair before faces.
      material.polygonOffset = true;
      material.polygonOffsetFactor = material.polygonOffsetUnits = 1;
      const mesh = new Mesh(geometry, material);
      mesh.name = body.id;
      mesh.matrixAutoUpdate = false;
      const edge = new LineSegments(new EdgesGeometry(geometry, 30), new LineBasicMaterial({ color: colours.ink }));
      edge.matrixAutoUpdate = false;
      this.machine.add(mesh, edge);
      this.bodies.set(body.id, mesh);
      this.edges.set(body.id, edge);
    }
    for (const [plane, sheet] of sheetsOf(mechanism, colours.primary)) this.sheets.set(plane, sheet);
    this.marks.push(...marksOf(mechanism, colours, (id) => this.reachOf(id)));
    this.directions.splice(0, Infinity, ...directionMarks(mechanism, axes, this.typicalSize()));
    const more = [...this.sheets.values(), ...[...this.marks, ...this.directions].map(({ object }) => object)];
    if (more.length > 0) this.machine.add(...more);
    this.ask();
  }

  /** A length typical of what is drawn, m. */
  private typicalSize(): number {
    return Math.max(0.05, ...[...this.bodies.keys()].map((id) => this.reachOf(id)));
  }

  /** How far a body reaches, m. */
  private reachOf(id: string): number {
    const mesh = this.bodies.get(id);
    if (!mesh) return 0.05;
    mesh.geometry.computeBoundingBox();
    return mesh.geometry.boundingBox!.getSize(new Vector3()).length();
  }

  /** Puts everything where it stands for these poses. */
  stand(poses: readonly (Pose | undefined)[]): void {
    if (!this.mechanism) return;
    const standing = standingOf(this.mechanism, poses);
    for (const [id, mesh] of this.bodies) {
      matrixOf(standing.body(id), mesh.matrix);
      mesh.matrixWorldNeedsUpdate = true;
      const edge = this.edges.get(id)!;
      edge.matrix.copy(mesh.matrix);
      edge.matrixWorldNeedsUpdate = true;
    }
    this.solids.stand(standing, matrixOf);
    for (const [id, sheet] of this.sheets) {
      matrixOf(standing.plane(id), sheet.matrix);
      sheet.matrixWorldNeedsUpdate = true;
    }
    for (const { place, object } of [...this.marks, ...this.directions]) {
      place(standing);
      object.matrixWorldNeedsUpdate = true;
    }
    this.ask();
  }

  /** Shows loose parts, what handles them, and sensors. */
  strew(things: LooseThings): void {
    this.loose.show(things, this.colours.paper, this.colours.ink);
    fade(this.loose.group, this.kinds.loose ?? 'whole');
    this.ask();
  }

  /** Shows other poses by faint edges; they share the shapes of the machine. */
  haunt(poses: readonly (readonly Pose[])[]): void {
    for (const child of this.ghosts.children) (child as LineSegments<BufferGeometry, Material>).material.dispose();
    this.ghosts.clear();
    for (const own of this.mechanism ? poses : []) {
      const standing = standingOf(this.mechanism!, own);
      for (const [id, { geometry }] of this.edges) {
        const material = new LineBasicMaterial({ color: this.colours.soft, transparent: true, opacity: 0.45 });
        const ghost = new LineSegments(geometry, material);
        ghost.matrixAutoUpdate = false;
        matrixOf(standing.body(id), ghost.matrix);
        this.ghosts.add(ghost);
      }
    }
    this.ask();
  }

  /** Lays ways and arrows over the machine. */
  lay({ traces, arrows }: SceneExtras): void {
    for (const child of this.extras.children)
      if (child instanceof Line) child.geometry.dispose();
      else dropArrow(child as Group);
    this.extras.clear();
    for (const trace of traces) {
      const geometry = new BufferGeometry().setAttribute('position', new Float32BufferAttribute(trace.flat(), 3));
      this.extras.add(new Line(geometry, new LineBasicMaterial({ color: this.colours.primary })));
    }
    for (const arrow of arrows) {
      const mesh = arrowMesh(arrow);
      if (mesh) this.extras.add(mesh);
    }
    this.ask();
  }

  /** Lays a see-through surface over the machine, in the world; or none. */
  veil(mesh: SolidMesh | null): void {
    this.veiled.geometry.dispose();
    this.veiled.visible = mesh !== null;
    if (mesh) {
      const geometry = new BufferGeometry().setAttribute(
        'position',
        new BufferAttribute(Float32Array.from(mesh.points), 3),
      );
      geometry.setIndex(new BufferAttribute(mesh.triangles, 1));
      geometry.computeVertexNormals();
      this.veiled.geometry = geometry;
      this.veiled.material.color.set(this.colours.primary);
    }
    this.ask();
  }

  /** Lights up what is chosen, and shows bodies, and kinds of things, whole, faintly or not at all. */
  mark(
    chosen: readonly string[],
    showing: (id: string) => Showing,
    kinds: ShownKinds,
    chosenSolid: (ref: SolidRef) => boolean = ({ carrier }) => chosen.includes(carrier),
  ): void {
    this.kinds = kinds;
    const { solids = 'whole', planes = 'whole', joints = 'whole', directions = 'whole' } = kinds;
    for (const [id, mesh] of this.bodies) {
      // A body that has solids is seen by these.
      const how = this.solid.has(id) ? 'hidden' : fainter(showing(id), solids);
      const edge = this.edges.get(id)!;
      for (const object of [mesh, edge]) fade(object, how);
      const isChosen = chosen.includes(id);
      edge.material.color.set(isChosen ? this.colours.attention : this.colours.ink);
      mesh.material.emissive.set(isChosen ? this.colours.attention : '#000000');
      mesh.material.emissiveIntensity = 0.25;
    }
    this.solids.mark(chosenSolid, (carrier) => fainter(showing(carrier), solids));
    for (const { object, body } of this.marks)
      fade(object, body === GROUND || showing(body) === 'whole' ? joints : 'hidden');
    for (const sheet of this.sheets.values()) fade(sheet, planes);
    for (const { object } of this.directions) fade(object, directions);
    fade(this.loose.group, kinds.loose ?? 'whole');
    this.ask();
  }

  /** Body under a place of the canvas, px. */
  hit(x: number, y: number): Hit | null {
    this.raycaster.setFromCamera(this.eye.spot(x, y), this.eye.camera);
    // What is met is a triangle of the true skin, whatever is being drawn.
    this.solids.coarsen(false);
    const bodies = [...this.bodies.values()].filter(({ visible }) => visible);
    const [first] = this.raycaster.intersectObjects([...bodies, ...this.solids.targets()], false);
    if (!first) return null;
    const solid = this.solids.hitOf(first);
    return { body: solid?.carrier ?? first.object.name, at: first.point.toArray(), solid };
  }

  /** Solids whose middles lie within a rectangle of the canvas, px. */
  solidsWithin([x0, y0]: readonly [number, number], [x1, y1]: readonly [number, number]): SolidRef[] {
    const [left, right, top, bottom] = [Math.min(x0, x1), Math.max(x0, x1), Math.min(y0, y1), Math.max(y0, y1)];
    return this.solids.middles().flatMap(({ ref, at }) => {
      const spot = this.eye.onCanvas(at);
      return spot && spot[0] >= left && spot[0] <= right && spot[1] >= top && spot[1] <= bottom ? [ref] : [];
    });
  }

  /** Corners of the sheets on the canvas, where their names stand. */
  sheetCorners(): { plane: string; at: [number, number] }[] {
    const placed: { plane: string; at: [number, number] }[] = [];
    for (const [plane, sheet] of this.sheets) {
      if (!sheet.visible) continue;
      const corner = (sheet.userData.corner as Vector3).clone().applyMatrix4(sheet.matrix);
      const at = this.eye.onCanvas(corner.toArray());
      if (!at) continue;
      // Where another name stands already it goes below that.
      while (placed.some((other) => Math.abs(other.at[0] - at[0]) < 70 && Math.abs(other.at[1] - at[1]) < 14))
        at[1] += 14;
      placed.push({ plane, at });
    }
    return placed;
  }

  private bounds(): Box3 {
    const box = new Box3();
    this.machine.updateMatrixWorld(true);
    this.solids.group.updateMatrixWorld(true);
    for (const mesh of this.bodies.values()) if (mesh.visible) box.expandByObject(mesh);
    for (const target of this.solids.targets()) box.expandByObject(target);
    for (const thing of this.loose.solids()) box.expandByObject(thing);
    return box;
  }

  resize(width: number, height: number): void {
    if (!(width > 0) || !(height > 0)) return;
    this.renderer.setSize(width, height, false);
    this.eye.resize(width, height);
    this.ask();
  }

  /** Asks for a picture: one, however often it is asked before it comes. */
  ask(): void {
    if (this.waiting || this.ended) return;
    this.waiting = true;
    const asked = performance.now();
    requestAnimationFrame((now) => {
      this.waiting = false;
      if (this.ended) return;
      const isCoarse = this.pace.next(performance.now() - asked);
      if (this.solids.coarsen(isCoarse) && isCoarse) this.pace.settle();
      const moved = this.eye.update(Math.min(0.1, (now - this.last) / 1000));
      this.last = now;
      this.renderer.render(this.scene, this.eye.camera);
      this.frames++;
      this.drawn();
      if (moved) this.ask();
    });
  }

  dispose(): void {
    this.ended = true;
    this.pace.end();
    this.eye.dispose();
    this.renderer.dispose();
    // A browser keeps but a few pictures of this kind: this one is given back at once.
    this.renderer.forceContextLoss();
  }
}
