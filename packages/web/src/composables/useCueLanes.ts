import { causeArrows, type CueMove, type Spot } from '@yoke/core';
import { computed, ref, type Ref } from 'vue';
import { useCues } from '@/stores/cues';
import { useMachine } from '@/stores/machine';
import { useRun } from '@/stores/run';
import { dragPointer } from './usePointerDrag';
import type { TimeSpan } from './useTimeView';

/** Height of the lane of an axis and of a signal, and width of their names, px. */
export const ROW = 44;
const SIGNAL = 20;
export const GUTTER = 118;

/**
 * What is drawn of a cycle over time: lanes of axes with their moves, signals, and arrows from what started what.
 * @param chainOnly whether of the arrows only those on the chain that holds the cycle are drawn
 */
export function useCueLanes(span: Readonly<Ref<TimeSpan>>, width: Readonly<Ref<number>>, chainOnly: () => boolean) {
  const machine = useMachine();
  const cues = useCues();
  const results = useRun();
  const x = (time: number) =>
    GUTTER + ((time - span.value.from) / (span.value.to - span.value.from)) * (width.value - GUTTER - 12);

  const axes = computed(() => machine.axes.filter(({ id }) => cues.record?.moves.some(({ axis }) => axis === id)));
  const lanes = computed(() =>
    axes.value.map((axis, row) => {
      const run = results.run;
      const own = results.ofAxis(axis.id);
      const top = row * ROW;
      let d = '';
      if (run && own) {
        const { position } = own.channels;
        let low = Infinity;
        let high = -Infinity;
        for (const p of position) {
          if (p < low) low = p;
          if (p > high) high = p;
        }
        const scale = high > low ? (ROW - 20) / (high - low) : 0;
        let last = -9;
        for (let k = 0; k < run.times.length; k++) {
          const time = run.times[k]!;
          if (time < span.value.from - 0.05 || time > span.value.to + 0.05) continue;
          const px = x(time);
          if (px - last < 0.7) continue;
          last = px;
          d += `${d ? 'L' : 'M'}${px.toFixed(1)} ${(top + ROW - 8 - (position[k]! - low) * scale).toFixed(1)}`;
        }
      }
      const moves = (cues.record?.moves ?? []).filter(
        (m) => m.axis === axis.id && m.to >= span.value.from && m.from <= span.value.to,
      );
      return { axis, top, d, moves };
    }),
  );
  const signals = computed(() => {
    const top = axes.value.length * ROW + 6;
    const elements = machine.document?.mechanism.elements ?? [];
    const nameOf = (list: readonly { id: string; name: string }[] | undefined, id: string) => list?.find((own) => own.id === id)?.name ?? ''; // prettier-ignore
    const all = [
      ...(cues.record?.signals ?? []).map((own) => ({ ...own, id: own.sensor, name: nameOf(cues.sequence?.sensors, own.sensor) })), // prettier-ignore
      ...(cues.record?.switches ?? []).map((own) => ({ ...own, id: own.element, name: nameOf(elements, own.element) })),
    ];
    return all.map((signal, i) => {
      const y = top + i * SIGNAL;
      let on = signal.first;
      let d = `M${x(span.value.from).toFixed(1)} ${y + (on ? 4 : 15)}`;
      signal.times.slice(1).forEach((time) => {
        if (time > span.value.to) return;
        if (time >= span.value.from) d += `H${x(time).toFixed(1)}V${y + (on ? 15 : 4)}`;
        on = !on;
        if (time < span.value.from) d = `M${x(span.value.from).toFixed(1)} ${y + (on ? 4 : 15)}`;
      });
      d += `H${x(span.value.to).toFixed(1)}`;
      return { id: signal.id, name: signal.name, y, d };
    });
  });
  const height = computed(() => axes.value.length * ROW + signals.value.length * SIGNAL + 16);

  /** Place of an event in the drawing; null where what it is on is not drawn. */
  function placeOf({ time, on }: Spot): { x: number; y: number } | null {
    const signal = 'sensor' in on ? signals.value.find(({ id }) => id === on.sensor) : undefined;
    const lane = 'axis' in on ? lanes.value.find(({ axis }) => axis.id === on.axis) : undefined;
    if (signal) return { x: x(time), y: signal.y + 9 };
    return lane ? { x: x(time), y: lane.top + ROW - 5 } : null;
  }
  /** From what decided to what it started: for chosen cues, or along the chain where none is chosen. */
  const arrows = computed(() => {
    const record = cues.record;
    if (!record || results.stale) return [];
    return causeArrows(record, span.value, {
      chosen: cues.chosen,
      chain: cues.chain,
      criticalOnly: chainOnly(),
    }).flatMap((arrow) => {
      const [origin, target] = [placeOf(arrow.from), placeOf(arrow.to)];
      if (!target || !origin || (Math.abs(origin.x - target.x) < 1 && Math.abs(origin.y - target.y) < 1)) return [];
      const bend = Math.max(8, Math.min(40, Math.abs(target.x - origin.x) / 2));
      return [
        {
          key: `${arrow.cause} ${arrow.acts}`,
          chain: arrow.critical,
          d: `M${origin.x} ${origin.y}C${origin.x + bend} ${origin.y} ${target.x - bend} ${target.y} ${target.x} ${target.y}`,
        },
      ];
    });
  });
  const critical = computed(
    () =>
      new Set(
        (cues.chain?.links ?? [])
          .filter(({ what }) => what === 'action')
          .map(({ subject, end }) => `${subject} ${end.toFixed(6)}`),
      ),
  );
  const isCritical = (move: CueMove) => critical.value.has(`${move.cue} ${move.to.toFixed(6)}`);

  return { lanes, signals, arrows, height, isCritical };
}

/**
 * A box drawn on the ground of the lanes chooses the moves that it touches.
 * @param click what a mere click does
 */
export function useCueBox(
  lanes: Readonly<Ref<readonly { top: number; moves: readonly CueMove[] }[]>>,
  x: (time: number) => number,
  click: (event: PointerEvent) => void,
) {
  const cues = useCues();
  const box = ref<{ x: number; y: number; width: number; height: number } | null>(null);
  function press(event: PointerEvent): void {
    if (event.button !== 0) return;
    const svg = event.currentTarget as SVGSVGElement;
    const frame = svg.getBoundingClientRect();
    const [x0, y0] = [event.clientX - frame.left, event.clientY - frame.top];
    const more = event.shiftKey || event.ctrlKey || event.metaKey;
    dragPointer(event, svg, {
      move: ({ clientX, clientY }) => {
        const [x1, y1] = [clientX - frame.left, clientY - frame.top];
        if (!box.value && Math.hypot(x1 - x0, y1 - y0) < 4) return;
        box.value = { x: Math.min(x0, x1), y: Math.min(y0, y1), width: Math.abs(x1 - x0), height: Math.abs(y1 - y0) };
      },
      end: (cancelled) => {
        const drawn = box.value;
        box.value = null;
        if (cancelled) return;
        if (!drawn) return click(event);
        const caught = lanes.value
          .filter(({ top }) => top + ROW > drawn.y && top < drawn.y + drawn.height)
          .flatMap(({ moves }) => moves)
          .filter(({ from, to }) => x(to) >= drawn.x && x(from) <= drawn.x + drawn.width)
          .map(({ cue }) => cue);
        cues.chosen = [...new Set([...(more ? cues.chosen : []), ...caught])];
      },
    });
  }

  return { box, press };
}
