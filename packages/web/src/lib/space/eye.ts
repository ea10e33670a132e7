import CameraControls from 'camera-controls';
import { Box3, Matrix4, OrthographicCamera, PerspectiveCamera, Quaternion, Raycaster, Sphere, Spherical, Vector2, Vector3, Vector4 } from 'three'; // prettier-ignore
import { EYES, type Eye } from './views';

CameraControls.install({
  THREE: { Vector2, Vector3, Vector4, Quaternion, Matrix4, Spherical, Box3, Sphere, Raycaster },
});

type At = [number, number, number];

/** From where a picture is looked at, and what of it stands where on the canvas. */
export class SceneEye {
  private readonly perspective = new PerspectiveCamera(32, 1, 0.01, 200);
  private readonly parallel = new OrthographicCamera(-1, 1, 1, -1, -100, 100);
  private controls: CameraControls;

  /** @param bounds the box about all that is seen; @param ask asks for a picture */
  constructor(
    private readonly canvas: HTMLCanvasElement,
    private readonly bounds: () => Box3,
    private readonly ask: () => void,
  ) {
    this.controls = this.control(this.perspective);
  }

  private control(camera: PerspectiveCamera | OrthographicCamera): CameraControls {
    const controls = new CameraControls(camera, this.canvas);
    controls.smoothTime = 0.08;
    controls.draggingSmoothTime = 0.02;
    controls.dollyToCursor = true;
    for (const event of ['control', 'controlstart', 'transitionstart'] as const)
      controls.addEventListener(event, () => this.ask());
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

  /** A place of the canvas, px, as three.js has it. */
  spot(x: number, y: number): Vector2 {
    const { clientWidth, clientHeight } = this.canvas;
    return new Vector2((2 * x) / clientWidth - 1, 1 - (2 * y) / clientHeight);
  }

  /** Where a ray through a place of the canvas meets the sheet of the screen that goes through a point, m. */
  onScreenThrough(x: number, y: number, point: readonly [number, number, number]): At {
    const seen = new Vector3(...point).project(this.camera);
    const spot = this.spot(x, y);
    return new Vector3(spot.x, spot.y, seen.z).unproject(this.camera).toArray();
  }

  /** Directions of the picture in the world: to the right and up. */
  screenAxes(): [At, At] {
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

  /**
   * Looks from a standard side at all of it.
   * @param across from the side across: from behind, from the left, from below; askew from behind
   */
  look(eye: Eye, { smoothly = true, across = false } = {}): void {
    const from = new Vector3(...EYES[eye].from).normalize();
    if (across) from.multiply(new Vector3(-1, eye === 'depth' ? 1 : -1, -1));
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

  resize(width: number, height: number): void {
    this.perspective.aspect = width / height;
    this.perspective.updateProjectionMatrix();
    const half = 0.5;
    this.parallel.left = (-half * width) / height;
    this.parallel.right = (half * width) / height;
    this.parallel.top = half;
    this.parallel.bottom = -half;
    this.parallel.updateProjectionMatrix();
  }

  /** Whether the hand turns the view; off while it drags a body. */
  set turning(on: boolean) {
    this.controls.enabled = on;
  }

  /** Goes on with a movement of the eye; tells whether it moved. @param seconds since the last picture */
  update(seconds: number): boolean {
    return this.controls.update(seconds);
  }

  dispose(): void {
    this.controls.dispose();
  }
}
