import { addBar, addDisc, addFreeBody, addJoint, addPlane, GROUND, groundPoint, newDrive, turnOf, turns, worldOf, type Body, type Joint, type Machine, type Mechanism, type Place } from '@yoke/core'; // prettier-ignore
import { useBoard } from '@/stores/board';
import { useMachine } from '@/stores/machine';
import { usePreferences } from '@/stores/preferences';

/** What is added to the mechanism without the pointer: bodies, ties, drives. */
export function useAdditions() {
  const board = useBoard();
  const machine = useMachine();
  const preferences = usePreferences();

  /** A body in the middle of what is seen, for those who type rather than draw. */
  function add(label: string, make: (m: Mechanism, x: number, y: number, size: number) => Body): void {
    const { x, y, scale } = board.view ?? { x: 0, y: 0, scale: 1000 };
    const snap = (v: number) => Number((Math.round(v / board.grid) * board.grid).toPrecision(12));
    board.draw(label, (draft) =>
      board.select(make(draft.mechanism as Mechanism, snap(x), snap(y), snap(100 / scale)).id),
    );
  }
  const addABar = () =>
    add('add a bar', (m, x, y, size) =>
      addBar(m, [x - size / 2, y], [x + size / 2, y], undefined, preferences.barWidth, board.plane),
    );
  const addADisc = () => add('add a disc', (m, x, y, size) => addDisc(m, [x, y], size / 2, undefined, board.plane));

  /** A plane on the ground, seen from the right; its panel puts it elsewhere. */
  function addAPlane(): void {
    let made = '';
    const problem = board.draw('add a plane', (draft) => {
      made = addPlane(draft.mechanism as Mechanism, { turn: turnOf('right') }).id;
    });
    if (problem === null) board.select(made);
  }

  function addAFreeBody(): void {
    let made = '';
    const plane = board.plane;
    const problem = board.draw('add a free body', (draft) => {
      made = addFreeBody(draft.mechanism as Mechanism, [0, 0], plane).id;
    });
    if (problem !== null) return;
    board.select(made);
    board.message =
      'It goes and turns as it likes, in a plane of its own: tie it with rods and ball joints. The two bodies without mass before it leave it free.';
  }

  /** Points of a body that nothing ties yet; all where everything is tied. */
  function freePoints(m: Mechanism, body: Body): string[] {
    const tied = (point: string) =>
      m.joints.some((joint) =>
        [joint.b, ...('a' in joint ? [joint.a] : [])].some((end) => end.body === body.id && end.point === point),
      );
    const free = body.points.map(({ id }) => id).filter((id) => !tied(id));
    return free.length > 0 ? free : body.points.map(({ id }) => id);
  }
  /** Pins a point of a body that is free yet to the ground where it lies, or to the nearest free point of another body. */
  function pin(bodyId: string, to: string): void {
    board.draw('add a pin', (draft) => {
      const m = draft.mechanism as Mechanism;
      const find = (id: string) => m.bodies.find((body) => body.id === id)!;
      const own = freePoints(m, find(bodyId)).map((point): Place => ({ body: bodyId, point }));
      if (to === GROUND) {
        board.select(addJoint(m, 'pin', groundPoint(m, worldOf(m, own[0]!), find(bodyId).plane), own[0]!).id);
        return;
      }
      const others = freePoints(m, find(to)).map((point): Place => ({ body: to, point }));
      const pairs = own.flatMap((b) => others.map((a) => ({ a, b, apart: Math.hypot(worldOf(m, a)[0] - worldOf(m, b)[0], worldOf(m, a)[1] - worldOf(m, b)[1]) }))); // prettier-ignore
      const nearest = pairs.reduce((best, next) => (next.apart < best.apart ? next : best));
      board.select(addJoint(m, 'pin', nearest.a, nearest.b).id);
    });
  }

  /** Position of a joint at the pose shown; what assembling leaves of an error is none. */
  function positionOf(joint: Joint): number {
    const found = board.model?.joint(joint.id);
    const q = board.shownState();
    const value = found?.coordinate && q ? found.coordinate.value(q) : 0;
    return Math.abs(value) < 1e-6 * (turns(joint) ? 1 : (board.model?.scale ?? 1)) ? 0 : value;
  }
  /** Gives a joint an axis that drives it, and chooses that. */
  function driveJoint(joint: Joint): void {
    // A stroke to begin with, in figures that can be read.
    const stroke = Number(((board.model?.scale ?? 0.1) * 0.1).toPrecision(2));
    const made = newDrive(machine.document as Machine, joint, positionOf(joint), stroke);
    const problem = board.draw(`drive ${joint.name}`, (draft) => void draft.axes.push(structuredClone(made)));
    if (problem === null) machine.selectedAxisId = made.id;
  }

  return { addABar, addADisc, addAPlane, addAFreeBody, pin, positionOf, driveJoint };
}
