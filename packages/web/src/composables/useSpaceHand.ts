import { GROUND, sameSolid, UNASSIGNED, type Machine, type SolidRef } from '@yoke/core';
import { ref, type Ref, type ShallowRef } from 'vue';
import { nameIn } from '@/lib/mechanism-run';
import type { Hit, SpaceScene } from '@/lib/space/scene';
import { useGeometry } from '@/stores/geometry';

type At = [number, number, number];

/** What a picture in depth lets the hand do. */
interface HandProps {
  machine: Machine;
  hand?: boolean | undefined;
  band?: boolean | undefined;
  solids?: readonly SolidRef[] | undefined;
}
interface HandEmit {
  (event: 'select', id: string | null, more: boolean, hit: Hit | null): void;
  (event: 'pull', hit: Hit, to: At, axes: [At, At]): void;
  (event: 'letGo'): void;
  (event: 'banded', solids: SolidRef[], more: boolean): void;
}

/** The hand in a picture in depth: it presses, pulls bodies, draws rectangles, and is told what lies under it. */
export function useSpaceHand(
  canvas: Ref<HTMLCanvasElement | undefined>,
  scene: ShallowRef<SpaceScene | null>,
  props: HandProps,
  emit: HandEmit,
) {
  const geometry = useGeometry();
  const hovered = ref<{ name: string; x: number; y: number } | null>(null);
  let pressed: { x: number; y: number; hit: Hit | null } | null = null;
  /** The rectangle being drawn, px. */
  const rectangle = ref<{ from: [number, number]; to: [number, number] } | null>(null);

  const isBody = (hit: Pick<Hit, 'body'> | null) => props.machine.mechanism.bodies.some(({ id }) => id === hit?.body);
  /** What is under the pointer: where solids are worked on, that one, with what it moves with. */
  function nameOf({ body, solid }: Hit): string {
    const own = solid && geometry.all.find((other) => sameSolid({ carrier: other.carrier, id: other.solid.id }, solid));
    const carrier = body === UNASSIGNED ? 'not assigned' : body === GROUND ? 'ground' : nameIn(props.machine, body);
    if (!own) return carrier;
    return props.solids || !isBody({ body }) ? `${own.solid.name} (${carrier})` : carrier;
  }

  const spot = (event: PointerEvent | MouseEvent): [number, number] => {
    const frame = canvas.value!.getBoundingClientRect();
    return [event.clientX - frame.left, event.clientY - frame.top];
  };
  function down(event: PointerEvent): void {
    const [x, y] = spot(event);
    const hit = event.button === 0 ? (scene.value?.hit(x, y) ?? null) : null;
    pressed = { x, y, hit };
    const bands = props.band && event.button === 0;
    if (scene.value && (bands || (props.hand && isBody(hit)))) {
      scene.value.eye.turning = false;
      canvas.value!.setPointerCapture(event.pointerId);
    }
  }
  function move(event: PointerEvent): void {
    const own = scene.value;
    if (!own) return;
    const [x, y] = spot(event);
    if (pressed) {
      hovered.value = null;
      if (props.band && event.buttons === 1) rectangle.value = { from: [pressed.x, pressed.y], to: [x, y] };
      else if (props.hand && pressed.hit && isBody(pressed.hit))
        emit('pull', pressed.hit, own.eye.onScreenThrough(x, y, pressed.hit.at), own.eye.screenAxes());
      return;
    }
    const hit = own.hit(x, y);
    hovered.value = hit ? { name: nameOf(hit), x, y } : null;
  }
  function up(event: PointerEvent): void {
    const own = scene.value;
    if (!pressed || !own) return;
    const [x, y] = spot(event);
    const still = Math.hypot(x - pressed.x, y - pressed.y) < 4;
    if (rectangle.value && !still)
      emit('banded', own.solidsWithin(rectangle.value.from, rectangle.value.to), event.shiftKey);
    rectangle.value = null;
    if (still && event.button === 0)
      emit('select', isBody(pressed.hit) ? pressed.hit!.body : null, event.shiftKey, pressed.hit);
    if (props.hand && pressed.hit) emit('letGo');
    own.eye.turning = true;
    pressed = null;
  }

  return { hovered, rectangle, spot, down, move, up };
}
