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
  emptyCurvePoint,
  GROUND,
  groundPoint,
  localOf,
  nameIn,
  nearestOn,
  pathCurve,
  tiedPoints,
  worldOf,
  type CarriedJoint,
  type Machine,
  type Mechanism,
  type Place,
} from '@yoke/core';
import { ref, type Ref } from 'vue';
import type { At, Spot } from '@/lib/board-tools';
import type { Projection } from '@/lib/board-view';
import { useBoard } from '@/stores/board';
import { useMachine } from '@/stores/machine';
import { usePreferences } from '@/stores/preferences';

/** What the drawing tools make of the places they are given. */
export function useBoardDrawing(projection: Ref<Projection>, points: Ref<readonly { place: Place; at: At }[]>) {
  const board = useBoard();
  const machine = useMachine();
  const preferences = usePreferences();
  /** Points clicked so far, of a plate, path or measurement. */
  const clicked = ref<At[]>([]);

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
    return body ? bodyPoint(m, body, ontoBar(m, body, at)) : null;
  }

  function finishTwo(from: Spot, to: Spot): void {
    const length = Math.hypot(to.at[0] - from.at[0], to.at[1] - from.at[1]);
    if (length < 1e-6) return;
    const direction = Math.atan2(to.at[1] - from.at[1], to.at[0] - from.at[0]);
    switch (board.tool) {
      case 'bar':
        return make('draw a bar', (m) => {
          const bar = addBar(m, from.at, to.at, undefined, preferences.barWidth, board.plane);
          for (const end of [from, to]) pinTo(m, bar.id, end);
          return bar;
        });
      case 'disc':
        return make('draw a disc', (m) => {
          const disc = addDisc(m, from.at, length, undefined, board.plane);
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
          return addJoint(m, kind, under ? bodyPoint(m, under, from.at) : groundPoint(m, from.at, board.plane), b, {
            direction,
          });
        });
      }
      case 'cylinder':
      case 'spring':
      case 'damper': {
        const kind = board.tool;
        if (!pointExists(from) && !pointExists(to)) return refuse('One end at least must be on a body.');
        return make(`add a ${kind}`, (m) => {
          const a = pointOf(m, from) ?? groundPoint(m, from.at, board.plane);
          const b = pointOf(m, to, [a.body]) ?? groundPoint(m, to.at, board.plane);
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

  const nameOf = (id: string) => (id === GROUND ? 'the ground' : nameIn(machine.document!, id));
  const pointExists = (spot: Spot) => (spot.place !== null && spot.place.body !== GROUND) || spot.bodies.length > 0;
  const refuse = (text: string) => void (board.message = text);

  /** Pins the new body to whatever is drawn at one of its ends: one body, or else the ground. */
  function pinTo(m: Mechanism, body: string, { at, place, centre, bodies }: Spot): void {
    const round = centre && bodies[0] ? bodyPoint(m, bodies[0], at) : null;
    const other = place?.body === GROUND ? groundPoint(m, at, board.plane) : (place ?? round);
    if (other) addJoint(m, 'pin', other, bodyPoint(m, body, at));
  }

  /** What ties two bodies to each other, or one to the ground, at a place already; null for nothing. */
  function tiedHere(m: Mechanism, [x, y]: At, one: string, other: string): string | null {
    const pins = m.joints.filter((joint): joint is CarriedJoint => {
      if (joint.kind !== 'pin' && joint.kind !== 'weld') return false;
      const at = worldOf(m, joint.b);
      return Math.hypot(at[0] - x, at[1] - y) < 1e-9;
    });
    const start = pins.flatMap(({ a, b }) => [a, b]).find(({ body }) => body === one);
    if (!start || !tiedPoints(m, start).some(({ body }) => body === other)) return null;
    const own = pins.filter(({ a, b }) => [a.body, b.body].includes(one));
    return (own.find(({ a, b }) => [a.body, b.body].includes(other)) ?? own[0]!).name;
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
        if (!pointExists(spot))
          return refuse(
            board.mechanism!.bodies.length === 0
              ? 'There is no body to pin yet: draw a bar, a plate or a disc first.'
              : 'No body lies here, so there is nothing to pin: click a body’s point, the centre of a hole, or anywhere on it.',
          );
        {
          const body = spot.place && spot.place.body !== GROUND ? spot.place.body : spot.bodies[0]!;
          const known = tiedHere(board.slice!.mechanism, spot.at, body, GROUND);
          if (known) return refuse(`${nameOf(body)} is tied to the ground here already, by ${known}.`);
        }
        return make('pin to the ground', (m) => {
          const b = pointOf(m, spot);
          return b ? addJoint(m, 'pin', groundPoint(m, spot.at, board.plane), b) : null;
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
        // Of several bodies the topmost two that are not yet tied here.
        const pairs = bodies.length > 1 ? bodies.flatMap((b, i) => bodies.slice(i + 1).map((a) => [a, b] as const)) : [[GROUND, bodies[0]!] as const]; // prettier-ignore
        const pair = pairs.find(([a, b]) => tiedHere(board.slice!.mechanism, spot.at, a, b) === null);
        if (!pair) {
          const [a, b] = pairs[0]!;
          return refuse(
            `${nameOf(b)} and ${nameOf(a)} are tied here already, by ${tiedHere(board.slice!.mechanism, spot.at, a, b)}.`,
          );
        }
        const [one, other] = pair;
        return make(kind === 'pin' ? 'pin two bodies' : 'weld', (m) =>
          addJoint(
            m,
            kind,
            one === GROUND ? groundPoint(m, spot.at, board.plane) : bodyPoint(m, one, spot.at),
            bodyPoint(m, other, spot.at),
          ),
        );
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
      Math.hypot(spot.at[0] - first[0], spot.at[1] - first[1]) * projection.value.scale < CLOSES_PX;
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
        const plate = addPlate(m, corners, undefined, [], board.plane);
        for (const at of corners) {
          const spot = points.value.find((p) => Math.hypot(p.at[0] - at[0], p.at[1] - at[1]) < 1e-9);
          if (spot) pinTo(m, plate.id, { at, place: spot.place, bodies: [], id: null });
        }
        return plate;
      });
    if (tool === 'path' && corners.length >= 2)
      make('draw a path', (m) => {
        if (closed) return addPath(m, GROUND, { kind: 'loop', through: corners }, undefined, board.plane);
        const [from, ...rest] = corners as [At, ...At[]];
        const pieces = rest.map((to) => ({ kind: 'line' as const, to }));
        return addPath(m, GROUND, { kind: 'chain', start: from, closed: false, pieces }, undefined, board.plane);
      });
  }

  function followPath(spot: Spot): void {
    const m = board.slice!.mechanism;
    const body = spot.place && spot.place.body !== GROUND ? spot.place.body : spot.bodies[0];
    if (!body) return refuse('Click a point of the body that shall follow the path.');
    let best: { id: string; distance: number; carrier: string } | null = null;
    for (const path of m.paths) {
      if (path.body === body) continue;
      try {
        const curve = pathCurve(path.shape);
        const pose = board.slicePoses[m.bodies.findIndex(({ id }) => id === path.body)] ?? { x: 0, y: 0, angle: 0 };
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

  return { clicked, finishTwo, clickTool, finishCorners };
}

/** A place on a straight bar goes onto its middle line, so that a new point there does not change its shape. */
function ontoBar(m: Mechanism, bodyId: string, at: At): At {
  const body = m.bodies.find(({ id }) => id === bodyId);
  const [first, second] = body?.points ?? [];
  if (body?.shape.kind !== 'bar' || !first || !second || body.points.some(({ at: p }) => Math.abs(p[1]) > 1e-9))
    return at;
  const [x, y] = localOf(body, at);
  if (Math.abs(y) > body.shape.width || x < 0 || x > second.at[0]) return at;
  const { pose } = body;
  return [pose.x + Math.cos(pose.angle) * x, pose.y + Math.sin(pose.angle) * x];
}

/** A click this near to the first corner closes the line. */
const CLOSES_PX = 11;
