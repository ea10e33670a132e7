import {
  addBar,
  addCam,
  addDisc,
  addElement,
  addGuide,
  addJoint,
  addPath,
  addPlate,
  bodyPoint,
  dragTowards,
  formatQuantity,
  GROUND,
  groundPoint,
  moveBodies,
  nearestOn,
  emptyCurvePoint,
  pathCurve,
  redrawPoint,
  worldOf,
  type Machine,
  type Mechanism,
  type Place,
} from '@yoke/core';
import { computed, ref, shallowRef, watch, type Ref } from 'vue';
import { placeIn, type Projection } from '@/lib/board-view';
import { useBoard, type Tool } from '@/stores/board';
import { useMachine } from '@/stores/machine';

type At = [number, number];

/** A place the pointer is at: in the world, and the drawn point it snapped to. */
export interface Spot {
  at: At;
  place: Place | null;
  /** Bodies under the pointer, the topmost first. */
  bodies: string[];
  /** Whatever can be chosen there. */
  id: string | null;
}

/** What each tool asks for next. */
export const TOOL_HINTS: Record<Tool, string> = {
  choose: 'Click to choose, drag a point to redraw it, drag a body to move it. Shift adds to the choice.',
  hand: 'Drag a body to feel how it moves within its freedoms.',
  bar: 'Press at one end and drag to the other. Ends that meet are pinned together.',
  plate: 'Click the corners; click the first again, or press Enter, to finish.',
  disc: 'Press at the centre and drag the radius.',
  ground: 'Click the point of a body that shall turn on the ground.',
  pin: 'Click where two bodies shall turn on each other.',
  weld: 'Click where two bodies, or a body and the ground, shall be one.',
  slide: 'Press at a point of a body and drag along the rail. The body below it, or else the ground, carries the rail.',
  slot: 'Press at a point of a body and drag along the slot. The body below it, or else the ground, carries the slot.',
  path: 'Click the points of a path; click the first again to close it, or press Enter to finish.',
  follow: 'Click a point of a body that lies near a path: it will be held on it, or follow it as a cam.',
  cylinder: 'Press at one end and drag to the other; ends on the board itself stand on the ground.',
  spring: 'Press at one end and drag to the other; ends on the board itself stand on the ground.',
  damper: 'Press at one end and drag to the other; ends on the board itself stand on the ground.',
  force: 'Press at a point of a body and drag in the direction of the force.',
  torque: 'Click the body on which the torque acts.',
  trace: 'Click a point of a body whose path shall be drawn.',
  measure: 'Click two points for their distance, a third for the angle between.',
};

const SNAP_PX = 11;

/** Pointer work on the drawing board: choosing, redrawing, moving by hand, and every drawing tool. */
export function useBoardTools(projection: Ref<Projection>) {
  const board = useBoard();
  const machine = useMachine();
  const start = shallowRef<Spot | null>(null);
  const here = shallowRef<Spot | null>(null);
  /** Points clicked so far, of a plate, path or measurement. */
  const clicked = ref<At[]>([]);
  /** A box that chooses what lies in it. */
  const band = ref<{ from: At; to: At } | null>(null);
  let gesture:
    { kind: 'point'; place: Place } | { kind: 'bodies'; from: At } | { kind: 'grip' } | { kind: 'band' } | null = null;
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

  /** All points that can be snapped to, with their place in the world. */
  const points = computed(() => {
    const m = board.mechanism;
    if (!m) return [];
    const places: Place[] = [
      ...m.bodies.flatMap((b) => b.points.map((p) => ({ body: b.id, point: p.id }))),
      ...m.ground.map((p) => ({ body: GROUND, point: p.id })),
    ];
    return places.flatMap((place) => {
      const at = placeIn(m, board.poses, place);
      return at ? [{ place, at }] : [];
    });
  });

  function spotAt(event: PointerEvent, svg: SVGSVGElement): Spot {
    const box = svg.getBoundingClientRect();
    const [px, py] = [event.clientX - box.left, event.clientY - box.top];
    const elements = document.elementsFromPoint(event.clientX, event.clientY);
    const bodies = elements.flatMap((el) => (el as HTMLElement).dataset?.body ?? []);
    const id = elements.map((el) => (el as HTMLElement).dataset?.id).find((found) => found !== undefined) ?? null;
    let best: { place: Place; at: At } | null = null;
    let least = SNAP_PX;
    for (const { place, at } of points.value) {
      const distance = Math.hypot(projection.value.x(at[0]) - px, projection.value.y(at[1]) - py);
      if (distance < least) {
        least = distance;
        best = { place, at };
      }
    }
    if (best && !event.altKey) return { at: best.at, place: best.place, bodies, id };
    const free = projection.value.world(px, py);
    const g = board.grid;
    const round = (v: number) => Number((Math.round(v / g) * g).toPrecision(12));
    const at: At = board.snapping && !event.altKey ? [round(free[0]), round(free[1])] : free;
    return { at, place: null, bodies, id };
  }

  function down(event: PointerEvent, svg: SVGSVGElement): void {
    if (event.button !== 0) return;
    const spot = spotAt(event, svg);
    here.value = spot;
    svg.setPointerCapture(event.pointerId);
    if (board.tool === 'choose') return chooseDown(event, spot);
    if (board.tool === 'hand') return handDown(spot, projection.value, event, svg);
    if (!needsStartPose()) return;
    if (TWO_ENDED.has(board.tool)) {
      if (start.value) finishTwo(start.value, spot);
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

  function chooseDown(event: PointerEvent, spot: Spot): void {
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
    if (spot.id) {
      if (!board.selection.includes(spot.id) || event.shiftKey) board.select(spot.id, event.shiftKey);
      if (spot.bodies.length > 0 && board.mechanism!.bodies.some(({ id }) => id === spot.id)) {
        gesture = { kind: 'bodies', from: spot.at };
        gestures++;
      }
      return;
    }
    if (!event.shiftKey) board.select(null);
    gesture = { kind: 'band' };
    band.value = { from: spot.at, to: spot.at };
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
      const box = svg.getBoundingClientRect();
      const free = projection.value.world(event.clientX - box.left, event.clientY - box.top);
      const other =
        spot.place && Math.hypot(spot.at[0] - worldOf(m, place)[0], spot.at[1] - worldOf(m, place)[1]) > 1e-9;
      const to: At = other ? spot.at : board.snapping && !event.altKey ? snapGrid(free) : free;
      board.draw(
        'redraw a point',
        (draft) => redrawPoint(draft.mechanism as Mechanism, place, to),
        `redraw-${gestures}`,
      );
    } else if (gesture.kind === 'bodies') {
      const by: At = [spot.at[0] - gesture.from[0], spot.at[1] - gesture.from[1]];
      if (Math.hypot(...by) < 1e-9) return;
      gesture.from = spot.at;
      const chosen = new Set(board.selection);
      board.draw('move', (draft) => moveBodies(draft.mechanism as Mechanism, chosen, by), `move-${gestures}`);
    } else if (gesture.kind === 'grip' && grip && board.model && board.hand) {
      const box = svg.getBoundingClientRect();
      const q = Float64Array.from(board.hand);
      dragTowards(board.model, q, grip, projection.value.world(event.clientX - box.left, event.clientY - box.top));
      board.hand = q;
    } else if (gesture.kind === 'band' && band.value) band.value = { ...band.value, to: spot.at };
  }

  const snapGrid = ([x, y]: readonly [number, number]): At => {
    const g = board.grid;
    const round = (v: number) => Number((Math.round(v / g) * g).toPrecision(12));
    return [round(x), round(y)];
  };

  function up(event: PointerEvent, svg: SVGSVGElement): void {
    const spot = spotAt(event, svg);
    if (gesture?.kind === 'band' && band.value) chooseInBand(band.value, event.shiftKey);
    gesture = null;
    band.value = null;
    if (!start.value) return;
    const way = Math.hypot(spot.at[0] - start.value.at[0], spot.at[1] - start.value.at[1]) * projection.value.scale;
    // A click without a drag leaves the first end standing: the second end is clicked next.
    if (way > 5) finishTwo(start.value, spot);
  }

  function chooseInBand({ from, to }: { from: At; to: At }, more: boolean): void {
    const inside = ([x, y]: readonly [number, number]) =>
      x >= Math.min(from[0], to[0]) &&
      x <= Math.max(from[0], to[0]) &&
      y >= Math.min(from[1], to[1]) &&
      y <= Math.max(from[1], to[1]);
    const caught = board
      .mechanism!.bodies.filter((body) =>
        body.points.every((p) => inside(placeIn(board.mechanism!, board.poses, { body: body.id, point: p.id })!)),
      )
      .map(({ id }) => id);
    if (caught.length > 0) board.selection = more ? [...new Set([...board.selection, ...caught])] : caught;
  }

  /** A drawn change; what was made is chosen, and the tool stays for the next. */
  function make(label: string, recipe: (m: Mechanism, machine: Machine) => { id: string } | null): void {
    let made: { id: string } | null = null;
    const problem = board.draw(label, (draft) => {
      made = recipe(draft.mechanism as Mechanism, draft as Machine);
    });
    const id = (made as { id: string } | null)?.id;
    if (problem === null && id) board.select(id);
  }

  /** The point of a body for a spot: the snapped one, or a new one on the body under the pointer. */
  function pointOf(m: Mechanism, { place, bodies, at }: Spot, except: readonly string[] = []): Place | null {
    if (place && place.body !== GROUND && !except.includes(place.body)) return place;
    const body = bodies.find((id) => !except.includes(id));
    return body ? bodyPoint(m, body, at) : null;
  }

  function finishTwo(from: Spot, to: Spot): void {
    start.value = null;
    const length = Math.hypot(to.at[0] - from.at[0], to.at[1] - from.at[1]);
    if (length < 1e-6) return;
    const direction = Math.atan2(to.at[1] - from.at[1], to.at[0] - from.at[0]);
    switch (board.tool) {
      case 'bar':
        return make('draw a bar', (m) => {
          const bar = addBar(m, from.at, to.at);
          for (const end of [from, to]) pinTo(m, bar.id, end);
          return bar;
        });
      case 'disc':
        return make('draw a disc', (m) => {
          const disc = addDisc(m, from.at, length);
          pinTo(m, disc.id, from);
          return disc;
        });
      case 'slide':
      case 'slot': {
        const kind = board.tool;
        if (!from.place && from.bodies.length === 0)
          return refuse('Begin at a point of a body: that is what shall slide.');
        return make(`add a ${kind}`, (m) => {
          const b = pointOf(m, from);
          if (!b) return null;
          // Where a second body lies under the first it carries the rail; else the ground does.
          const under = from.bodies.find((id) => id !== b.body);
          return addJoint(m, kind, under ? bodyPoint(m, under, from.at) : groundPoint(m, from.at), b, { direction });
        });
      }
      case 'cylinder':
      case 'spring':
      case 'damper': {
        const kind = board.tool;
        if (!pointExists(from) && !pointExists(to)) return refuse('One end at least must be on a body.');
        return make(`add a ${kind}`, (m) => {
          const a = pointOf(m, from) ?? groundPoint(m, from.at);
          const b = pointOf(m, to, [a.body]) ?? groundPoint(m, to.at);
          if (kind === 'cylinder') return addJoint(m, 'cylinder', a, b);
          return addElement(m, kind === 'spring' ? { kind, a, b, rate: 1000, free: length } : { kind, a, b, rate: 50 });
        });
      }
      case 'force': {
        if (!pointExists(from)) return refuse('Begin at a point of a body: that is where the force acts.');
        return make('add a force', (m) => {
          const at = pointOf(m, from);
          return at
            ? addElement(m, {
                kind: 'force',
                at,
                turns: false,
                angle: direction,
                course: { kind: 'constant', value: 10 },
              })
            : null;
        });
      }
    }
  }

  const pointExists = (spot: Spot) => (spot.place !== null && spot.place.body !== GROUND) || spot.bodies.length > 0;
  const refuse = (text: string) => void (board.message = text);

  /** Pins the new body to whatever is drawn at one of its ends: one body, or else the ground. */
  function pinTo(m: Mechanism, body: string, { at, place }: Spot): void {
    if (!place) return;
    const own = bodyPoint(m, body, at);
    addJoint(m, 'pin', place.body === GROUND ? groundPoint(m, at) : place, own);
  }

  function clickTool(spot: Spot): void {
    switch (board.tool) {
      case 'plate':
      case 'path':
        return addCorner(spot);
      case 'measure':
        clicked.value = clicked.value.length >= 3 ? [spot.at] : [...clicked.value, spot.at];
        return;
      case 'ground':
        if (!pointExists(spot)) return refuse('Click a point of a body: a bar’s end, or anywhere on it.');
        return make('pin to the ground', (m) => {
          const b = pointOf(m, spot);
          return b ? addJoint(m, 'pin', groundPoint(m, spot.at), b) : null;
        });
      case 'pin':
      case 'weld': {
        const kind = board.tool;
        const bodies = [
          ...new Set([...(spot.place && spot.place.body !== GROUND ? [spot.place.body] : []), ...spot.bodies]),
        ];
        if (bodies.length === 0) return refuse('Click where two bodies lie over each other.');
        if (bodies.length === 1 && kind === 'pin')
          return refuse('Only one body lies here. Use “Ground pin” to tie it to the ground.');
        return make(kind === 'pin' ? 'pin two bodies' : 'weld', (m) => {
          const b = bodyPoint(m, bodies[0]!, spot.at);
          const a = bodies.length > 1 ? bodyPoint(m, bodies[1]!, spot.at) : groundPoint(m, spot.at);
          return addJoint(m, kind, a, b);
        });
      }
      case 'follow':
        return followPath(spot);
      case 'torque':
        if (!spot.bodies[0]) return refuse('Click a body.');
        return make('add a torque', (m) =>
          addElement(m, { kind: 'torque', body: spot.bodies[0]!, course: { kind: 'constant', value: 1 } }),
        );
      case 'trace':
        if (!pointExists(spot)) return refuse('Click a point of a body.');
        return make('trace a point', (m) => {
          const place = pointOf(m, spot)!;
          const index = m.traces.findIndex((t) => t.body === place.body && t.point === place.point);
          if (index >= 0) m.traces.splice(index, 1);
          else m.traces.push(place);
          board.select(place.body);
          return null;
        });
    }
  }

  function addCorner(spot: Spot): void {
    const first = clicked.value[0];
    const closes =
      first &&
      clicked.value.length >= 3 &&
      Math.hypot(spot.at[0] - first[0], spot.at[1] - first[1]) * projection.value.scale < SNAP_PX;
    if (closes) return finishCorners(true);
    clicked.value = [...clicked.value, spot.at];
  }

  /** Ends a plate or a path with the corners clicked so far. */
  function finishCorners(closed: boolean): void {
    const corners = clicked.value;
    const tool = board.tool;
    clicked.value = [];
    if (tool === 'plate' && corners.length >= 3)
      make('draw a plate', (m) => {
        const plate = addPlate(m, corners);
        for (const at of corners) {
          const spot = points.value.find((p) => Math.hypot(p.at[0] - at[0], p.at[1] - at[1]) < 1e-9);
          if (spot) pinTo(m, plate.id, { at, place: spot.place, bodies: [], id: null });
        }
        return plate;
      });
    if (tool === 'path' && corners.length >= 2)
      make('draw a path', (m) => {
        if (closed) return addPath(m, GROUND, { kind: 'loop', through: corners });
        const [from, ...rest] = corners as [At, ...At[]];
        return addPath(m, GROUND, {
          kind: 'chain',
          start: from,
          closed: false,
          pieces: rest.map((to) => ({ kind: 'line', to })),
        });
      });
  }

  function followPath(spot: Spot): void {
    const m = board.mechanism!;
    const body = spot.place && spot.place.body !== GROUND ? spot.place.body : spot.bodies[0];
    if (!body) return refuse('Click a point of the body that shall follow the path.');
    let best: { id: string; distance: number; carrier: string } | null = null;
    for (const path of m.paths) {
      if (path.body === body) continue;
      try {
        const curve = pathCurve(path.shape);
        const pose = board.poses[m.bodies.findIndex(({ id }) => id === path.body)] ?? { x: 0, y: 0, angle: 0 };
        const [dx, dy] = [spot.at[0] - pose.x, spot.at[1] - pose.y];
        const [c, s] = [Math.cos(pose.angle), Math.sin(pose.angle)];
        const local: At = [c * dx + s * dy, -s * dx + c * dy];
        const p = emptyCurvePoint();
        curve.at(nearestOn(curve, ...local), p);
        const distance = Math.hypot(p.x - local[0], p.y - local[1]);
        if (!best || distance < best.distance) best = { id: path.id, distance, carrier: path.body };
      } catch {
        continue;
      }
    }
    if (!best) return refuse('There is no path that this body could follow: draw one first.');
    const { id, carrier, distance } = best;
    make('follow a path', (draft) => {
      const b = bodyPoint(draft, body, spot.at);
      const closed = draft.paths.find((p) => p.id === id)!.shape.kind !== 'chain';
      if (carrier !== GROUND && closed)
        return addCam(draft, id, b, distance > 1e-4 ? { kind: 'roller', radius: distance } : { kind: 'tip' });
      return addGuide(draft, id, b);
    });
  }

  function cancel(): void {
    if (start.value || clicked.value.length > 0) {
      start.value = null;
      clicked.value = [];
    } else board.tool = 'choose';
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

  return { start, here, clicked, band, points, down, move, up, cancel, finishCorners, readout, measured };
}

const TWO_ENDED: ReadonlySet<Tool> = new Set(['bar', 'disc', 'slide', 'slot', 'cylinder', 'spring', 'damper', 'force']);
