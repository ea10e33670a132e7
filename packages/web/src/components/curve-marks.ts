import type { Chart, ChartArea, Plugin } from 'chart.js';
import { withAlpha } from '@/lib/axis-look';
import { placeLabel, type Box, type Spot } from '@/lib/label-place';
import type { CurveMark, CurvePoint, LimitBand } from './CurveChart.vue';
import { FIGURES, type curveColours } from './curve-theme';

/** What is drawn behind and over the curves of a chart. */
export interface CurveMarks {
  limit: LimitBand | undefined;
  marks: readonly CurveMark[];
  /** Places that a curve is to pass, drawn as small dots. */
  points: readonly CurvePoint[];
  colours: ReturnType<typeof curveColours>;
}

const RADIUS = 3.5;
/** Up to here a label needs no line to what it labels, px. */
const NEAR = 12;
/** Height of a line of figures, and room between them and the edge of their ground, px. */
const LINE = 12;
const PADDING = 2;

/**
 * Draws limits as bands behind the curves and marks their peaks, with labels off the curves.
 * @param what is to be drawn, asked for at every drawing
 */
export function marksPlugin(what: () => CurveMarks): Plugin<'line'> {
  return {
    id: 'curveMarks',
    beforeDatasetsDraw: (chart) => drawBands(chart, what()),
    afterDatasetsDraw: (chart) => {
      drawPoints(chart, what());
      drawMarks(chart, what());
    },
  };
}

function drawBands({ ctx, chartArea, scales }: Chart<'line'>, { limit, colours }: CurveMarks): void {
  if (!limit) return;
  const { left, right, top, bottom } = chartArea;
  const [high, low] = [limit.high, limit.low].map((value) => scales.y!.getPixelForValue(value)) as [number, number];
  ctx.save();
  ctx.fillStyle = withAlpha(colours.bad, 0.11);
  if (high > top) ctx.fillRect(left, top, right - left, Math.min(high, bottom) - top);
  if (low < bottom) ctx.fillRect(left, Math.max(low, top), right - left, bottom - Math.max(low, top));
  ctx.restore();
}

const within = ({ left, right, top, bottom }: ChartArea, x: number, y: number) =>
  x >= left - 1 && x <= right + 1 && y >= top - 1 && y <= bottom + 1;

function drawPoints({ ctx, chartArea, scales }: Chart<'line'>, { points, colours }: CurveMarks): void {
  ctx.save();
  ctx.fillStyle = colours.panel;
  ctx.strokeStyle = colours.ink;
  ctx.lineWidth = 1;
  let last = { x: -Infinity, y: -Infinity };
  for (const { time, value } of points) {
    const [x, y] = [scales.x!.getPixelForValue(time), scales.y!.getPixelForValue(value)];
    // Of a long table those are drawn that can be told apart.
    if (!within(chartArea, x, y) || Math.hypot(x - last.x, y - last.y) < 3) continue;
    last = { x, y };
    ctx.beginPath();
    ctx.arc(x, y, 2.2, 0, 2 * Math.PI);
    ctx.fill();
    ctx.stroke();
  }
  ctx.restore();
}

/** A thin line to a label that stands away from what it labels. */
function lead(ctx: CanvasRenderingContext2D, at: Spot, box: Box, colour: string): void {
  const x = Math.min(Math.max(at.x, box.left), box.right);
  const y = Math.min(Math.max(at.y, box.top), box.bottom);
  if (Math.hypot(x - at.x, y - at.y) < NEAR) return;
  ctx.beginPath();
  ctx.moveTo(at.x, at.y);
  ctx.lineTo(x, y);
  ctx.lineWidth = 0.75;
  ctx.strokeStyle = colour;
  ctx.stroke();
}

function drawMarks(chart: Chart<'line'>, { marks, colours }: CurveMarks): void {
  const { ctx, chartArea, scales } = chart;
  const curves = chart.data.datasets.map((_, i) => chart.getDatasetMeta(i).data);
  const taken: Box[] = [];
  ctx.save();
  ctx.font = `${FIGURES.size}px ${FIGURES.family}`;
  ctx.textBaseline = 'middle';
  for (const { time, value, text } of marks) {
    const at = { x: scales.x!.getPixelForValue(time), y: scales.y!.getPixelForValue(value) };
    // Zoomed away.
    if (!within(chartArea, at.x, at.y)) continue;
    const size = { width: ctx.measureText(text).width + 2 * PADDING, height: LINE + 2 * PADDING };
    const box = placeLabel(at, size, chartArea, curves, taken);
    taken.push(box);
    lead(ctx, at, box, colours.soft);
    ctx.beginPath();
    ctx.arc(at.x, at.y, RADIUS, 0, 2 * Math.PI);
    ctx.fillStyle = colours.panel;
    ctx.fill();
    ctx.lineWidth = 1.5;
    ctx.strokeStyle = colours.ink;
    ctx.stroke();
    ctx.fillStyle = withAlpha(colours.panel, 0.85);
    ctx.fillRect(box.left, box.top, size.width, size.height);
    ctx.fillStyle = colours.ink;
    ctx.fillText(text, box.left + PADDING, (box.top + box.bottom) / 2);
  }
  ctx.restore();
}
