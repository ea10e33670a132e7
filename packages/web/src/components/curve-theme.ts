import {
  Chart,
  Decimation,
  Filler,
  LinearScale,
  LineController,
  LineElement,
  LogarithmicScale,
  PointElement,
  ScatterController,
} from 'chart.js';
import zoom from 'chartjs-plugin-zoom';
import { resolvedColour } from '@/lib/axis-look';

Chart.register(
  LineController,
  ScatterController,
  LineElement,
  LogarithmicScale,
  PointElement,
  LinearScale,
  LogarithmicScale,
  Filler,
  Decimation,
  zoom,
);

/** Width kept for the value axis, so that stacked curves share one time axis, px. */
export const VALUE_AXIS_WIDTH = 76;
/** Room to the right of the time axis, px. */
export const RIGHT_PADDING = 14;

/** Colours of the present theme, as canvas wants them. */
export function curveColours() {
  return {
    ink: resolvedColour('--ink'),
    soft: resolvedColour('--ink-soft'),
    line: resolvedColour('--line-soft'),
    axis: resolvedColour('--line'),
    panel: resolvedColour('--panel'),
    attention: resolvedColour('--attention'),
    bad: resolvedColour('--bad'),
    good: resolvedColour('--good'),
    primary: resolvedColour('--primary'),
  };
}

export const FIGURES = { family: 'Barlow', size: 11 };
export const WORDS = { family: 'Barlow', size: 12 };

export { Chart };
