import {
  displayUnit,
  AXIS_KINDS,
  formatQuantity,
  motionAt,
  motionBlocks,
  motionPoints,
  planFormula,
  scaleTimes,
  type Axis,
  type AxisMotion,
  type QuantityKind,
} from '@yoke/core';
import { computed } from 'vue';
import { useMachine } from '@/stores/machine';
import { useMotions } from '@/stores/motions';

type Source = AxisMotion['source'];
export type SourceKind = Source['kind'];

/**
 * What led an axis before it was led otherwise, kept while the application is open: going back finds it again, as long
 * as the motion has not been changed meanwhile.
 */
const former = new Map<string, { source: Source; since: string }>();
const stateOf = ({ motion, plan }: Pick<Axis, 'motion' | 'plan'>) => JSON.stringify([motion, plan]);

/**
 * Lets a motion run over time or over the master. Plan and points keep their shape: their length in time becomes their
 * length of the master, and back, so that a plan is always in the unit of what its axis runs over.
 */
export function setOver(
  axis: Pick<Axis, 'plan' | 'motion'>,
  over: AxisMotion['over'],
  cycle: number,
  wrap: number,
): void {
  const { motion, plan } = axis;
  if (motion.over === over) return;
  const factor = over === 'master' ? wrap / cycle : cycle / wrap;
  const scaled = scaleTimes(plan, factor);
  plan.segments = scaled.segments;
  if (scaled.knee) plan.knee = scaled.knee;
  if (motion.source.kind === 'points')
    for (const row of motion.source.rows)
      row.forEach((value, c) => (row[c] = c === 0 ? value * factor : value / factor ** Math.max(0, c - 1)));
  motion.over = over;
}

/** Rows that a table begins with when it is read off the motion there is. */
const FIRST_ROWS = 41;

/** Editing what leads the selected axis. */
export function useMotionEdit() {
  const machine = useMachine();
  const motions = useMotions();
  const axis = computed(() => machine.axis!);

  const edit = (label: string, recipe: (motion: AxisMotion) => void, key?: string) =>
    machine.editAxis(label, (draft) => recipe(draft.motion), key);

  /** Changes the source where it is of a kind. */
  function editSource<K extends SourceKind>(
    kind: K,
    label: string,
    recipe: (source: Extract<Source, { kind: K }>) => void,
    key?: string,
  ) {
    return edit(
      label,
      (motion) => {
        if (motion.source.kind === kind) recipe(motion.source as Extract<Source, { kind: K }>);
      },
      key,
    );
  }

  /** The first content of a source: what was there before, or the same motion in the new form. */
  function firstOf(kind: SourceKind, of: Axis): { source: Source; level: AxisMotion['level'] } {
    const rotary = of.kind === 'rotary';
    const before = former.get(`${machine.id} ${of.id} ${kind}`);
    if (before && before.since === stateOf(of))
      return { source: before.source, level: kind === 'constant' ? 'velocity' : 'position' };
    const planned = of.motion.source.kind === 'plan' && of.motion.level === 'position' && of.motion.over === 'time';
    switch (kind) {
      case 'plan':
        return { source: { kind }, level: 'position' };
      case 'constant':
        return { source: { kind, value: rotary ? (2 * Math.PI) / machine.cycle : 0.05 }, level: 'velocity' };
      case 'harmonic':
        return {
          source: { kind, mean: of.plan.start, amplitude: rotary ? 0.5 : 0.02, frequency: 1 / machine.cycle, phase: 0 },
          level: 'position',
        };
      case 'moves':
        return { source: { kind, blocks: motionBlocks(motions.of(of.id).motion, of.limits) }, level: 'position' };
      case 'formula': {
        const unit = displayUnit(AXIS_KINDS[of.kind].position, machine.units).symbol.replace('°', 'deg');
        const text =
          planned && of.plan.segments.length > 0
            ? planFormula(of.plan, of.kind, machine.units)
            : `10 ${unit} * sin(2 pi t / T)`;
        return { source: { kind, text }, level: 'position' };
      }
      case 'points': {
        const rows = motionPoints(motions.of(of.id).motion, FIRST_ROWS);
        const closed = Math.abs(rows.at(-1)![1]! - rows[0]![1]!) < 1e-9;
        return {
          source: { kind, rows, way: 'quintic', ends: closed ? 'rest' : 'free', tolerance: 0 },
          level: 'position',
        };
      }
      case 'cues':
        return { source: { kind, start: planned ? of.plan.start : of.home }, level: 'position' };
      case 'follow':
        return { source: { kind, axis: null, ratio: rotary ? 1 : 0.01, offset: 0 }, level: 'position' };
    }
  }

  /** Lets something else lead the axis, which keeps its motion where it can. Answers with what there is to say of it. */
  function setSource(kind: SourceKind): string {
    const of = axis.value;
    if (of.motion.source.kind === kind) return '';
    const left = of.motion.source;
    const start = motionAt(motions.of(of.id).motion, 0).position;
    const { source, level } = firstOf(kind, of);
    const plain = JSON.parse(JSON.stringify(source)) as Source;
    const homed = plain.kind === 'moves' && plain.blocks.length > 0 && Math.abs(start - of.home) > 1e-9;
    const problem = machine.editAxis('what leads the axis', (draft) => {
      setOver(draft as Axis, 'time', machine.cycle, machine.document!.master.wrap);
      draft.motion.source = plain as typeof draft.motion.source;
      draft.motion.level = level;
      draft.motion.engage = null;
      if (homed) draft.home = start;
    });
    if (problem !== null) return problem;
    former.set(`${machine.id} ${of.id} ${left.kind}`, { source: left, since: stateOf(axis.value) });
    if (plain.kind !== 'moves' || plain.blocks.length === 0) return '';
    const { position } = AXIS_KINDS[of.kind];
    const home = homed ? ` Home is where they begin, ${formatQuantity(start, position, machine.units, 4)}.` : '';
    return `The motion is kept as ${plain.blocks.length === 1 ? 'one block' : `${plain.blocks.length} blocks`}, each in its time, at rest in between.${home}`;
  }

  /** What the values of the source measure, by its level. */
  const valueKind = computed<QuantityKind>(() => AXIS_KINDS[axis.value.kind][axis.value.motion.level]);
  /** What the source runs over. */
  const placeKind = computed<QuantityKind>(() =>
    axis.value.motion.over === 'master' ? AXIS_KINDS[machine.document!.master.kind].position : 'time',
  );

  return { axis, edit, editSource, setSource, valueKind, placeKind };
}
