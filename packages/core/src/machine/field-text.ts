import { tidy } from '../quantity';
import type { TextForm } from './field';

/** How a whole value is shown as one text and read back; reading answers with a sentence where it cannot. */
interface Text {
  most: number;
  show(value: unknown): string;
  read(text: string): { value: unknown } | string;
}

const numbers = (text: string) => text.split(/[,;\s]+/).filter(Boolean).map(Number); // prettier-ignore

/** Forms of text that a field may have. */
export const TEXTS: Readonly<Record<TextForm, Text>> = {
  corners: {
    most: 4000,
    show: (value) => (value as [number, number][]).map(([x, y]) => `${tidy(x * 1000)} ${tidy(y * 1000)}`).join(', '),
    read(text) {
      const points = text.split(/[,;]/).map((pair) => pair.trim().split(/\s+/).map(Number));
      if (points.some((point) => point.length !== 2 || point.some((value) => !Number.isFinite(value))))
        return 'Write corners in mm as “0 0, 100 0, 100 50”.';
      return { value: points.map(([x, y]) => [tidy(x! / 1000), tidy(y! / 1000)]) };
    },
  },
  times: {
    most: 4000,
    show: (value) => (value as number[]).join(', '),
    read(text) {
      const times = numbers(text);
      return times.length === 0 || times.some((time) => !(time >= 0))
        ? 'Write times in seconds, as “0.2, 2.2, 4”.'
        : { value: times };
    },
  },
  presses: {
    most: 400,
    show: (value) => (value as { at: number; hold: number }[]).map(({ at, hold }) => `${at} for ${hold}`).join(', '),
    read(text) {
      if (text === '') return { value: [] };
      const presses = text.split(',').map((part) => /^([\d.]+)\s*(?:s\s*)?(?:for\s*([\d.]+)\s*s?)?$/.exec(part.trim()));
      if (presses.some((match) => match === null)) return 'Write times in seconds, as “0.5 for 0.2, 3 for 0.2”.';
      return { value: presses.map((match) => ({ at: Number(match![1]), hold: Number(match![2] ?? 0.2) })) };
    },
  },
};
