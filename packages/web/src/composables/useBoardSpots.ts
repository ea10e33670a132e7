import { GROUND, roundCentres, type Place } from '@yoke/core';
import { computed, type Ref } from 'vue';
import type { At, Spot } from '@/lib/board-tools';
import { intoWorld, placeIn, type Projection } from '@/lib/board-view';
import { beside } from '@/lib/plane-slice';
import { useBoard } from '@/stores/board';

const SNAP_PX = 11;

/** Where the pointer is on the board, snapped to points and grid. */
export function useBoardSpots(projection: Ref<Projection>) {
  const board = useBoard();

  /** All points that can be snapped to, with their place in the world. */
  const points = computed(() => {
    const m = board.slice?.mechanism;
    if (!m) return [];
    const places: Place[] = [
      ...m.bodies.flatMap((b) => b.points.map((p) => ({ body: b.id, point: p.id }))),
      ...m.ground.map((p) => ({ body: GROUND, point: p.id })),
    ];
    return places.flatMap((place) => {
      const at = placeIn(m, board.slicePoses, place);
      return at ? [{ place, at }] : [];
    });
  });

  /** Centres of what is round, in the world, but for those where a point is drawn; offered where something is placed. */
  const centres = computed(() => {
    const m = board.slice?.mechanism;
    if (!m || (board.tool === 'choose' && !board.picking) || board.tool === 'hand') return [];
    return roundCentres(m).flatMap(({ body, at, radius }) => {
      const pose = board.slicePoses[m.bodies.findIndex(({ id }) => id === body)];
      const world: At = pose ? intoWorld(pose, at) : [...at];
      const drawn = points.value.some(
        (p) => p.place.body === body && Math.hypot(p.at[0] - world[0], p.at[1] - world[1]) < 1e-9,
      );
      return drawn ? [] : [{ body, at: world, radius }];
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
    const behind = event.altKey ? null : behindNear(px, py);
    if (behind) return { at: behind, place: null, bodies, id };
    const middle = event.altKey ? null : centreNear(px, py);
    if (middle) {
      const own = middle.body === GROUND ? [] : [middle.body];
      return {
        at: middle.at,
        place: null,
        bodies: [...new Set([...own, ...bodies])],
        id: id ?? own[0] ?? null,
        centre: true,
      };
    }
    const free = projection.value.world(px, py);
    const g = board.grid;
    const round = (v: number) => Number((Math.round(v / g) * g).toPrecision(12));
    const at: At = board.snapping && !event.altKey ? [round(free[0]), round(free[1])] : free;
    return { at, place: null, bodies, id };
  }

  /** Points of the rest of the machine, where they look to be in this plane. */
  const behindPoints = computed(() =>
    board.mechanism ? beside(board.mechanism, board.poses, board.plane).flatMap(({ points: own }) => own) : [],
  );
  function behindNear(px: number, py: number): At | null {
    const near = behindPoints.value
      .map((at) => ({ at, distance: Math.hypot(projection.value.x(at[0]) - px, projection.value.y(at[1]) - py) }))
      .sort((a, b) => a.distance - b.distance)[0];
    return near && near.distance < SNAP_PX ? near.at : null;
  }

  /** The centre of something round near a place of the drawing; of several the nearest. */
  function centreNear(px: number, py: number) {
    const near = centres.value.map((centre) => ({
      ...centre,
      distance: Math.hypot(projection.value.x(centre.at[0]) - px, projection.value.y(centre.at[1]) - py),
    }));
    const [best] = near.sort((a, b) => a.distance - b.distance);
    return best && best.distance < SNAP_PX ? best : null;
  }

  const snapGrid = ([x, y]: readonly [number, number]): At => {
    const g = board.grid;
    const round = (v: number) => Number((Math.round(v / g) * g).toPrecision(12));
    return [round(x), round(y)];
  };

  return { points, centres, spotAt, snapGrid };
}
