import { explainMechanismFinding, explainPlanFinding, isHeldBack, segmentName } from '@yoke/core';
import { useCues } from '@/stores/cues';
import { computed } from 'vue';
import type { StageId } from '@/lib/stages';
import { useMachine } from '@/stores/machine';
import { useRun } from '@/stores/run';

/** How far a stage is: nothing there, fine, to be looked at, or computed for an older document. */
export interface StageState {
  kind: 'empty' | 'ready' | 'attention' | 'stale';
  /** What is missing or wrong first, in words. */
  words: string;
}

/** State of every stage of the open machine, over all its axes. */
export function useStageStates() {
  const machine = useMachine();
  const results = useRun();
  const cues = useCues();
  return computed<Record<StageId, StageState>>(() => {
    const axes = machine.axes;
    const fine = (words: string): StageState => ({ kind: 'ready', words });
    const stale: StageState = { kind: 'stale', words: 'Computing …' };
    const { sequence, loose } = machine.document ?? {};
    const told = (sequence?.cues.length ?? 0) + (loose?.sources.length ?? 0);
    const wrong = cues.findings.find(({ severity }) => severity === 'error')?.text;
    const cue: StageState =
      told === 0
        ? { kind: 'empty', words: 'No cue and no loose part yet: axes go by motions of their own.' }
        : wrong
          ? { kind: 'attention', words: wrong }
          : results.stale || cues.checking
            ? stale
            : fine(`${sequence!.cues.length} cues, ${sequence!.sensors.length} sensors`);
    const bodies = machine.document?.mechanism.bodies.length ?? 0;
    const broken =
      bodies > 0 && machine.document
        ? (results.run?.mechanism?.findings ?? [])
            .filter(({ severity }) => severity === 'error')
            .map((finding) => explainMechanismFinding(finding, results.document ?? machine.document!))[0]
        : undefined;
    const mechanismState = (words: string): StageState =>
      broken ? { kind: 'attention', words: broken } : results.stale ? stale : fine(words);
    if (axes.length === 0) {
      const empty = { kind: 'empty', words: 'There is no axis yet: add one in Build.' } as const;
      const undriven: StageState = {
        kind: 'empty',
        words: 'No joint is driven yet: choose one in Build and drive it.',
      };
      if (bodies === 0) return { build: empty, move: empty, cue, run: empty, size: empty, deliver: empty };
      const drawn = mechanismState(bodies === 1 ? '1 body' : `${bodies} bodies`);
      return {
        build: drawn,
        move: undriven,
        cue,
        run: mechanismState('The cycle is computed.'),
        size: undriven,
        deliver: undriven,
      };
    }
    const firstError = axes.flatMap((axis) =>
      (results.ofAxis(axis.id)?.findings ?? [])
        .filter(({ severity }) => severity === 'error')
        .map((f) => `${axis.name}: ${explainPlanFinding(f, axis.kind, machine.units, (id) => segmentName(axis, id))}`),
    )[0];
    const noMotor = axes.find((axis) => {
      const ranking = results.rankings[axis.id];
      return ranking !== undefined && !ranking.some(({ fits }) => fits);
    });
    /** A run that asks first, failed, or holds values that are no numbers: nothing that stands on it is good. */
    const heldBack = axes.find((axis) => {
      const own = results.ofAxis(axis.id);
      return own !== null && isHeldBack(own);
    });
    /** A motion that could not be made as written: the axis rests instead, and what is computed is not what is wanted. */
    const unmade = axes.some((axis) =>
      results
        .ofAxis(axis.id)
        ?.findings.some(({ code, severity }) => severity === 'error' && ['formula', 'motion', 'engage'].includes(code)),
    );
    const trouble = results.ask ?? results.failure ?? broken ?? (heldBack || unmade ? firstError : undefined);
    const computedState = (words: string): StageState =>
      trouble ? { kind: 'attention', words: trouble } : results.stale ? stale : fine(words);
    return {
      build:
        bodies > 0
          ? mechanismState(`${bodies} bodies, ${axes.length === 1 ? '1 axis' : `${axes.length} axes`}`)
          : fine(axes.length === 1 ? '1 axis' : `${axes.length} axes`),
      move: firstError
        ? { kind: 'attention', words: firstError }
        : results.ask
          ? { kind: 'attention', words: results.ask }
          : results.stale
            ? stale
            : fine('The plans close and keep their limits.'),
      cue,
      run: computedState('The cycle is computed.'),
      size: trouble
        ? { kind: 'attention', words: trouble }
        : noMotor
          ? { kind: 'attention', words: `No motor of the catalogue fits ${noMotor.name}.` }
          : results.rankingStale
            ? stale
            : fine('Every axis has a motor that fits.'),
      deliver: computedState('Ready to be taken away.'),
    };
  });
}
