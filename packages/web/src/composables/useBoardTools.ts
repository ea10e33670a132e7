import {
  copyOf,
  dragTowards,
  formatQuantity,
  GROUND,
  localOf,
  moveBodies,
  redrawPoint,
  worldOf,
  type Mechanism,
  type Place,
} from '@yoke/core';
import { computed, ref, shallowRef, watch, type Ref } from 'vue';
import { TWO_ENDED, type At, type Spot } from '@/lib/board-tools';
import { placeIn, type Projection } from '@/lib/board-view';
import { useBoard } from '@/stores/board';
import { useMachine } from '@/stores/machine';
import { useBoardDrawing } from './useBoardDrawing';
import { useBoardSpots } from './useBoardSpots';
import { usePathHandles } from './usePathHandles';

/** Pointer work on the drawing board: choosing, redrawing, moving by hand, and every drawing tool. */
export function useBoardTools(projection: Ref<Projection>) {
  const board = useBoard();
  const machine = useMachine();
  const { points, centres, spotAt, snapGrid } = useBoardSpots(projection);
  const { clicked, finishTwo, clickTool, finishCorners } = useBoardDrawing(projection, points);
  const start = shallowRef<Spot | null>(null);
  const here = shallowRef<Spot | null>(null);
  /** A box that chooses what lies in it. */
  const band = ref<{ from: At; to: At } | null>(null);
  const paths = usePathHandles(projection);
  let gesture:
    | { kind: 'point'; place: Place }
    | { kind: 'path' }
    | { kind: 'bodies'; from: At }
    | { kind: 'grip' }
    | { kind: 'band' }
    | null = null;
  let grip: { base: number; x: number; y: number } | null = null;
  let gestures = 0;

  watch(
    () => board.tool,
    () => {
      start.value = null;
      clicked.value = [];
      band.value = null;
    },
  );

  /** The second end of what was begun at the first. */
  function finish(from: Spot, to: Spot): void {
    start.value = null;
    finishTwo(from, to);
  }

  function down(event: PointerEvent, svg: SVGSVGElement): void {
    if (event.button !== 0) return;
    const spot = spotAt(event, svg);
    here.value = spot;
    svg.setPointerCapture(event.pointerId);
    if (board.picking) return pickDown(spot);
    if (board.tool === 'choose') return chooseDown(event, spot, svg);
    if (board.tool === 'hand') return handDown(spot, projection.value, event, svg);
    if (!needsStartPose()) return;
    if (TWO_ENDED.has(board.tool)) {
      if (start.value) finish(start.value, spot);
      else start.value = spot;
      return;
    }
    clickTool(spot);
  }

  /** Drawing goes on the start pose; a pose held by hand is put back first. */
  function needsStartPose(): boolean {
    if (!board.hand) return true;
    board.hand = null;
    board.message = 'The start pose is shown again, as drawing goes on there.';
    return true;
  }

  /** Where the pointer is, without snapping. */
  function freeAt(event: MouseEvent, svg: SVGSVGElement): At {
    const box = svg.getBoundingClientRect();
    return projection.value.world(event.clientX - box.left, event.clientY - box.top);
  }

  function chooseDown(event: PointerEvent, spot: Spot, svg: SVGSVGElement): void {
    if (!event.shiftKey && paths.take(freeAt(event, svg))) {
      gesture = { kind: 'path' };
      gestures++;
      return;
    }
    if (
      spot.place &&
      spot.place.body !== GROUND &&
      !event.shiftKey &&
      !board.hand &&
      (spot.id === null || board.mechanism!.bodies.some(({ id }) => id === spot.id))
    ) {
      board.select(spot.place.body);
      gesture = { kind: 'point', place: spot.place };
      gestures++;
      return;
    }
    const id = spot.id ?? paths.pathAt(freeAt(event, svg))?.id ?? null;
    if (id) {
      if (!board.selection.includes(id) || event.shiftKey) board.select(id, event.shiftKey);
      else board.pathPiece = paths.pieceAt(freeAt(event, svg))?.piece ?? null;
      if (spot.bodies.length > 0 && board.mechanism!.bodies.some((body) => body.id === id)) {
        gesture = { kind: 'bodies', from: spot.at };
        gestures++;
      }
      return;
    }
    if (!event.shiftKey) board.select(null);
    gesture = { kind: 'band' };
    band.value = { from: spot.at, to: spot.at };
  }

  /** A point that a panel asks for: on a body, or else on the ground. */
  function pickDown(spot: Spot): void {
    const body = spot.place?.body ?? spot.bodies[0] ?? GROUND;
    const pose = board.poses[board.mechanism!.bodies.findIndex(({ id }) => id === body)];
    board.picking?.take({ body, at: pose ? localOf({ pose }, spot.at) : [...spot.at], plane: board.plane });
    board.picking = null;
  }

  function handDown(spot: Spot, { world }: Projection, event: PointerEvent, svg: SVGSVGElement): void {
    const { model } = board;
    const body = spot.bodies[0];
    if (!model || !body) {
      board.message = 'Press on a body and drag it.';
      return;
    }
    const box = svg.getBoundingClientRect();
    const [x, y] = spot.place ? spot.at : world(event.clientX - box.left, event.clientY - box.top);
    const q = board.shownState()!;
    const found = model.bodies.find(({ id }) => id === body)!;
    const [dx, dy] = [x - q[found.base]!, y - q[found.base + 1]!];
    const angle = q[found.base + 2]!;
    grip = {
      base: found.base,
      x: Math.cos(angle) * dx + Math.sin(angle) * dy,
      y: -Math.sin(angle) * dx + Math.cos(angle) * dy,
    };
    gesture = { kind: 'grip' };
    board.select(body);
    board.hand = q;
  }

  function move(event: PointerEvent, svg: SVGSVGElement): void {
    const spot = spotAt(event, svg);
    here.value = spot;
    if (!gesture) return;
    const m = board.mechanism!;
    if (gesture.kind === 'point') {
      const { place } = gesture;
      // A point does not snap to itself, nor to what hangs on it.
      const free = freeAt(event, svg);
      const other =
        spot.place && Math.hypot(spot.at[0] - worldOf(m, place)[0], spot.at[1] - worldOf(m, place)[1]) > 1e-9;
      const to: At = other ? spot.at : board.snapping && !event.altKey ? snapGrid(free) : free;
      board.draw(
        'redraw a point',
        (draft) => redrawPoint(draft.mechanism as Mechanism, place, to),
        `redraw-${gestures}`,
      );
    } else if (gesture.kind === 'path') {
      paths.drag(spot.at, gestures);
    } else if (gesture.kind === 'bodies') {
      const by: At = [spot.at[0] - gesture.from[0], spot.at[1] - gesture.from[1]];
      if (Math.hypot(...by) < 1e-9) return;
      gesture.from = spot.at;
      const chosen = new Set(board.selection);
      board.draw('move', (draft) => moveBodies(draft.mechanism as Mechanism, chosen, by), `move-${gestures}`);
    } else if (gesture.kind === 'grip' && grip && board.model && board.hand) {
      const q = copyOf(board.hand);
      dragTowards(board.model, q, grip, freeAt(event, svg), board.ends);
      board.hand = q;
    } else if (gesture.kind === 'band' && band.value) band.value = { ...band.value, to: spot.at };
  }

  function up(event: PointerEvent, svg: SVGSVGElement): void {
    const spot = spotAt(event, svg);
    if (gesture?.kind === 'band' && band.value) chooseInBand(band.value, event.shiftKey);
    gesture = null;
    band.value = null;
    if (!start.value) return;
    const way = Math.hypot(spot.at[0] - start.value.at[0], spot.at[1] - start.value.at[1]) * projection.value.scale;
    // A click without a drag leaves the first end standing: the second end is clicked next.
    if (way > 5) finish(start.value, spot);
  }

  function chooseInBand({ from, to }: { from: At; to: At }, more: boolean): void {
    const inside = ([x, y]: readonly [number, number]) =>
      x >= Math.min(from[0], to[0]) &&
      x <= Math.max(from[0], to[0]) &&
      y >= Math.min(from[1], to[1]) &&
      y <= Math.max(from[1], to[1]);
    const caught = board
      .slice!.mechanism.bodies.filter((body) =>
        body.points.every((p) => inside(placeIn(board.mechanism!, board.poses, { body: body.id, point: p.id })!)),
      )
      .map(({ id }) => id);
    if (caught.length > 0) board.selection = more ? [...new Set([...board.selection, ...caught])] : caught;
  }

  /** Ends a gesture that was broken off; what it has done so far stays. */
  function letGo(): void {
    gesture = null;
    band.value = null;
    start.value = null;
  }

  /** Escape: takes back what was begun, then the tool, then what is taken hold of, then the choice. */
  function cancel(): void {
    if (board.picking) board.picking = null;
    else if (start.value || clicked.value.length > 0) {
      start.value = null;
      clicked.value = [];
    } else if (board.tool !== 'choose') board.tool = 'choose';
    else if (board.pathHandle !== null) board.pathHandle = null;
    else board.select(null);
  }

  /** A double click ends what is being clicked, or adds a point to the chosen path. */
  function twice(event: MouseEvent, svg: SVGSVGElement): void {
    if (clicked.value.length > 0) finishCorners(false);
    else if (paths.path.value) paths.add(freeAt(event, svg));
  }

  const readout = computed(() => {
    const show = (v: number) => formatQuantity(v, 'length', machine.units, 4);
    const angle = (v: number) => formatQuantity(v, 'angle', machine.units, 4);
    const spot = here.value;
    if (!spot) return '';
    const place = `x ${show(spot.at[0])}   y ${show(spot.at[1])}`;
    const from = start.value?.at ?? (board.tool !== 'measure' ? clicked.value.at(-1) : undefined);
    if (!from) return place;
    const [dx, dy] = [spot.at[0] - from[0], spot.at[1] - from[1]];
    return `${place}   length ${show(Math.hypot(dx, dy))}   at ${angle(Math.atan2(dy, dx))}`;
  });

  const measured = computed(() => {
    if (board.tool !== 'measure' || clicked.value.length < 2) return null;
    const [a, b, c] = clicked.value as [At, At, At?];
    const show = (v: number) => formatQuantity(v, 'length', machine.units, 5);
    const [dx, dy] = [b[0] - a[0], b[1] - a[1]];
    const distance = `Distance ${show(Math.hypot(dx, dy))}, across ${show(dx)}, up ${show(dy)}`;
    if (!c) return `${distance}, at ${formatQuantity(Math.atan2(dy, dx), 'angle', machine.units, 5)}`;
    const turn = Math.atan2(c[1] - b[1], c[0] - b[0]) - Math.atan2(a[1] - b[1], a[0] - b[0]);
    const between = Math.abs(Math.atan2(Math.sin(turn), Math.cos(turn)));
    return `${distance}; angle at the second point ${formatQuantity(between, 'angle', machine.units, 5)}`;
  });

  return {
    start,
    here,
    clicked,
    band,
    points,
    centres,
    paths,
    down,
    move,
    up,
    cancel,
    letGo,
    twice,
    finishCorners,
    readout,
    measured,
  };
}
