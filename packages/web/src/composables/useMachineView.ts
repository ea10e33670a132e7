import { useElementSize } from '@vueuse/core';
import { computed, ref, type Ref } from 'vue';
import { project, viewOf, type Projection } from '@/lib/board-view';
import { dragPointer } from './usePointerDrag';

type Box = Parameters<typeof viewOf>[0];

/**
 * A picture of a machine that shows all it ever reaches, and is zoomed by the wheel and moved by the hand.
 * @param bounds all that it ever reaches, m
 */
export function useMachineView(element: Readonly<Ref<HTMLElement | undefined>>, bounds: () => Box) {
  const { width, height } = useElementSize(element);
  const zoom = ref(1);
  const shift = ref({ x: 0, y: 0 });
  const view = computed(() => {
    const box = bounds();
    const fitted = viewOf(box, width.value, height.value);
    if (box)
      fitted.scale = Math.max(
        1,
        Math.min(
          (width.value - 36) / Math.max(0.02, box.high[0] - box.low[0]),
          (height.value - 76) / Math.max(0.02, box.high[1] - box.low[1]),
        ),
      );
    return { ...fitted, scale: fitted.scale * zoom.value, x: fitted.x + shift.value.x, y: fitted.y + shift.value.y };
  });
  const projection = computed<Projection>(() => project(view.value, width.value, height.value));

  /** Zooms about a place on the picture, px; the middle where none is given. */
  function zoomBy(factor: number, [px, py]: readonly [number, number] = [width.value / 2, height.value / 2]): void {
    const before = projection.value.world(px, py);
    zoom.value = Math.max(0.3, Math.min(20, zoom.value * factor));
    const after = projection.value.world(px, py);
    shift.value = { x: shift.value.x + before[0] - after[0], y: shift.value.y + before[1] - after[1] };
  }
  function wheel(event: WheelEvent): void {
    const area = element.value!.getBoundingClientRect();
    zoomBy(Math.exp(-event.deltaY * 0.0015), [event.clientX - area.left, event.clientY - area.top]);
  }
  /** Tells how far the hand drags, in m. */
  function follow(event: PointerEvent, moved: (dx: number, dy: number) => void): void {
    let last = [event.clientX, event.clientY];
    const move = (e: PointerEvent) => {
      moved((e.clientX - last[0]!) / projection.value.scale, -(e.clientY - last[1]!) / projection.value.scale);
      last = [e.clientX, e.clientY];
    };
    dragPointer(event, element.value!, { move });
  }
  const pan = (event: PointerEvent) =>
    follow(event, (dx, dy) => (shift.value = { x: shift.value.x - dx, y: shift.value.y - dy }));
  function fit(): void {
    zoom.value = 1;
    shift.value = { x: 0, y: 0 };
  }
  /** Whether it does not show all. */
  const moved = computed(() => zoom.value !== 1 || shift.value.x !== 0 || shift.value.y !== 0);

  return { width, height, projection, wheel, pan, fit, zoomBy, follow, moved };
}
