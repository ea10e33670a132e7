import { GROUND, standingOf, type Frame, type Mechanism, type Pose } from '@yoke/core';
import CameraControls from 'camera-controls';
import {
  AmbientLight,
  Box3,
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
  Matrix4,
  Mesh,
  MeshLambertMaterial,
  OrthographicCamera,
  PerspectiveCamera,
  Quaternion,
  Raycaster,
  Scene,
  Sphere,
  Spherical,
  Vector2,
  Vector3,
  Vector4,
  WebGLRenderer,
  type Material,
} from 'three';
import { arrowMesh, dropArrow, type SceneArrow } from './arrows';
import { directionMarks, type DirectionMark, type DrivenAxis } from './directions';
import { LooseGroup, type LooseThings } from './loose';
import { marksOf, type Mark } from './marks';
import { sheetsOf } from './sheets';
import { fade, fainter, type Showing, type ShownKinds } from './showing';
import { EYES, type Eye } from './views';
import { solidOf } from './solids';

CameraControls.install({
  THREE: { Vector2, Vector3, Vector4, Quaternion, Matrix4, Spherical, Box3, Sphere, Raycaster },
});

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
  body: string;
  at: [number, number, number];
}

const matrixOf = ({ at, axes }: Frame, out: Matrix4): Matrix4 =>
  out.set(axes[0]!, axes[1]!, axes[2]!, at[0], axes[3]!, axes[4]!, axes[5]!, at[1], axes[6]!, axes[7]!, axes[8]!, at[2], 0, 0, 0, 1); // prettier-ignore

/** The machine in depth: solids, planes, joints. It is drawn only when something has changed. */
export class SpaceScene {
  private readonly renderer: WebGLRenderer;
  private readonly scene = new Scene();
  private readonly perspective = new PerspectiveCamera(32, 1, 0.01, 200);
  private readonly parallel = new OrthographicCamera(-1, 1, 1, -1, -100, 100);
  private controls: CameraControls;
  private readonly machine = new Group();
  private readonly extras = new Group();
  private readonly ghosts = new Group();
  private readonly loose = new LooseGroup();
  private readonly bodies = new Map<string, Mesh<BufferGeometry, MeshLambertMaterial>>();
  private readonly edges = new Map<string, LineSegments<BufferGeometry, LineBasicMaterial>>();
  private readonly sheets = new Map<string, Group>();
  private readonly marks: Mark[] = [];
  private readonly directions: DirectionMark[] = [];
  private readonly raycaster = new Raycaster();
  private mechanism: Mechanism | null = null;
  private colours: SceneColours;
  private kinds: ShownKinds = {};
  private last = 0;
  private waiting = false;
  private ended = false;
  /** Pictures drawn so far. */
  frames = 0;

  constructor(
    private readonly canvas: HTMLCanvasElement,
    colours: SceneColours,
    private readonly drawn: () => void = () => undefined,
  ) {
    this.colours = colours;
    this.renderer = new WebGLRenderer({ canvas, antialias: true, alpha: true, preserveDrawingBuffer: true });
    this.renderer.setPixelRatio(Math.min(2, devicePixelRatio));
    this.scene.add(new AmbientLight(0xffffff, 1.9), this.machine, this.extras, this.ghosts, this.loose.group); // prettier-ignore
    const light = new DirectionalLight(0xffffff, 1.7);
    light.position.set(0.4, 1, 0.7);
    this.scene.add(light);
    this.controls = this.control(this.perspective);
  }

  private control(camera: PerspectiveCamera | OrthographicCamera): CameraControls {
    const controls = new CameraControls(camera, this.canvas);
    controls.smoothTime = 0.08;
    controls.draggingSmoothTime = 0.02;
    controls.dollyToCursor = true;
    controls.addEventListener('control', () => this.ask());
    controls.addEventListener('controlstart', () => this.ask());
    controls.addEventListener('transitionstart', () => this.ask());
    return controls;
  }

  get camera(): PerspectiveCamera | OrthographicCamera {
    return this.controls.camera;
  }

  /** Whether distances do not make things smaller. */
  get isParallel(): boolean {
    return this.camera === this.parallel;
  }

  /** Looks in parallel lines, or as an eye does; from where it looks now. */
  setParallel(parallel: boolean): void {
    if (parallel === this.isParallel) return;
    const [at, to] = [this.controls.getPosition(new Vector3()), this.controls.getTarget(new Vector3())];
    this.controls.dispose();
    this.controls = this.control(parallel ? this.parallel : this.perspective);
    const { clientWidth: width, clientHeight: height } = this.canvas;
    this.resize(width, height);
    void this.controls.setLookAt(at.x, at.y, at.z, to.x, to.y, to.z, false);
    this.fit(false);
  }

  /** What is drawn; poses follow by {@link stand}. */
  show(mechanism: Mechanism, colours: SceneColours, axes: readonly DrivenAxis[] = []): void {
    this.mechanism = mechanism;
    this.colours = colours;
    this.machine.clear();
    for (const { geometry } of this.bodies.values()) geometry.dispose();
    this.bodies.clear();
    this.edges.clear();
    this.sheets.clear();
    this.marks.length = 0;
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

  /** Lights up what is chosen, and shows bodies, and kinds of things, whole, faintly or not at all. */
  mark(chosen: readonly string[], showing: (id: string) => Showing, kinds: ShownKinds): void {
    this.kinds = kinds;
    const { solids = 'whole', planes = 'whole', joints = 'whole', directions = 'whole' } = kinds;
    for (const [id, mesh] of this.bodies) {
      const how = fainter(showing(id), solids);
      const edge = this.edges.get(id)!;
      for (const object of [mesh, edge]) fade(object, how);
      const isChosen = chosen.includes(id);
      edge.material.color.set(isChosen ? this.colours.attention : this.colours.ink);
      mesh.material.emissive.set(isChosen ? this.colours.attention : '#000000');
      mesh.material.emissiveIntensity = 0.25;
    }
    for (const { object, body } of this.marks)
      fade(object, body === GROUND || showing(body) === 'whole' ? joints : 'hidden');
    for (const sheet of this.sheets.values()) fade(sheet, planes);
    for (const { object } of this.directions) fade(object, directions);
    fade(this.loose.group, kinds.loose ?? 'whole');
    this.ask();
  }

  /** Body under a place of the canvas, px. */
  hit(x: number, y: number): Hit | null {
    const { clientWidth, clientHeight } = this.canvas;
    this.raycaster.setFromCamera(new Vector2((2 * x) / clientWidth - 1, 1 - (2 * y) / clientHeight), this.camera);
    const [first] = this.raycaster.intersectObjects([...this.bodies.values()].filter(({ visible }) => visible), false); // prettier-ignore
    return first ? { body: first.object.name, at: first.point.toArray() } : null;
  }

  /** Where a ray through a place of the canvas meets the sheet of the screen that goes through a point, m. */
  onScreenThrough(x: number, y: number, point: readonly [number, number, number]): [number, number, number] {
    const { clientWidth, clientHeight } = this.canvas;
    const seen = new Vector3(...point).project(this.camera);
    return new Vector3((2 * x) / clientWidth - 1, 1 - (2 * y) / clientHeight, seen.z).unproject(this.camera).toArray();
  }

  /** Directions of the picture in the world: to the right and up. */
  screenAxes(): [[number, number, number], [number, number, number]] {
    const { elements: e } = this.camera.matrixWorld;
    return [
      [e[0]!, e[1]!, e[2]!],
      [e[4]!, e[5]!, e[6]!],
    ];
  }

  /** Where a place of the world is on the canvas, px; null behind the eye. */
  onCanvas(at: readonly [number, number, number]): [number, number] | null {
    const p = new Vector3(...at).project(this.camera);
    if (p.z > 1) return null;
    return [((p.x + 1) / 2) * this.canvas.clientWidth, ((1 - p.y) / 2) * this.canvas.clientHeight];
  }

  /** Corners of the sheets on the canvas, where their names stand. */
  sheetCorners(): { plane: string; at: [number, number] }[] {
    const placed: { plane: string; at: [number, number] }[] = [];
    for (const [plane, sheet] of this.sheets) {
      if (!sheet.visible) continue;
      const corner = (sheet.userData.corner as Vector3).clone().applyMatrix4(sheet.matrix);
      const at = this.onCanvas(corner.toArray());
      if (!at) continue;
      // Where another name stands already it goes below that.
      while (placed.some((other) => Math.abs(other.at[0] - at[0]) < 70 && Math.abs(other.at[1] - at[1]) < 14))
        at[1] += 14;
      placed.push({ plane, at });
    }
    return placed;
  }

  /** Looks from a standard side at all of it. */
  look(eye: Eye, smoothly = true): void {
    const from = new Vector3(...EYES[eye].from).normalize();
    const box = this.bounds();
    const middle = box.getCenter(new Vector3());
    const distance = Math.max(0.2, box.getSize(new Vector3()).length() * 2);
    const at = middle.clone().addScaledVector(from, distance);
    void this.controls.setLookAt(at.x, at.y, at.z, middle.x, middle.y, middle.z, smoothly);
    this.fit(smoothly);
  }

  /** Shows all of it from where it is looked at. */
  fit(smoothly = true): void {
    const box = this.bounds();
    if (box.isEmpty()) return;
    void this.controls.fitToSphere(box.getBoundingSphere(new Sphere()), smoothly);
    this.ask();
  }

  private bounds(): Box3 {
    const box = new Box3();
    this.machine.updateMatrixWorld(true);
    for (const mesh of this.bodies.values()) if (mesh.visible) box.expandByObject(mesh);
    for (const thing of this.loose.solids()) box.expandByObject(thing);
    return box;
  }

  resize(width: number, height: number): void {
    if (!(width > 0) || !(height > 0)) return;
    this.renderer.setSize(width, height, false);
    this.perspective.aspect = width / height;
    this.perspective.updateProjectionMatrix();
    const half = 0.5;
    this.parallel.left = (-half * width) / height;
    this.parallel.right = (half * width) / height;
    this.parallel.top = half;
    this.parallel.bottom = -half;
    this.parallel.updateProjectionMatrix();
    this.ask();
  }

  /** Whether the hand turns the view; off while it drags a body. */
  set turning(on: boolean) {
    this.controls.enabled = on;
  }

  /** Asks for a picture: one, however often it is asked before it comes. */
  ask(): void {
    if (this.waiting || this.ended) return;
    this.waiting = true;
    requestAnimationFrame((now) => {
      this.waiting = false;
      if (this.ended) return;
      const moved = this.controls.update(Math.min(0.1, (now - this.last) / 1000));
      this.last = now;
      this.renderer.render(this.scene, this.camera);
      this.frames++;
      this.drawn();
      if (moved) this.ask();
    });
  }

  dispose(): void {
    this.ended = true;
    this.controls.dispose();
    this.renderer.dispose();
    // A browser keeps but a few pictures of this kind: this one is given back at once.
    this.renderer.forceContextLoss();
  }
}
