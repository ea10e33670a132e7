import type { ToldFinding } from '@yoke/core';
import { computed } from 'vue';
import type { StageId } from '@/lib/stages';
import { useCues } from '@/stores/cues';
import { useMachine } from '@/stores/machine';
import { useRun } from '@/stores/run';

/** How far a stage is: nothing there, fine, to be looked at, or computed for an older document. */
export interface StageState {
  kind: 'empty' | 'ready' | 'attention' | 'stale';
  /** What is missing or wrong first, in words. */
  words: string;
}

type About = ToldFinding['about'];

const counted = (count: number, one: string, many: string) => (count === 1 ? `1 ${one}` : `${count} ${many}`);

/**
 * State of every stage of the open machine. What failed, asks first or broke off stands before everything that is
 * computed from it: no stage behind it shows as good.
 */
export function useStageStates() {
  const machine = useMachine();
  const results = useRun();
  const cues = useCues();

  /** The first error about some things, in words. */
  const error = (...about: About[]): string | undefined =>
    results.findings.find((finding) => finding.severity === 'error' && about.includes(finding.about))?.text;

  function state(wrong: string | null | undefined, isStale: boolean, words: string): StageState {
    if (wrong) return { kind: 'attention', words: wrong };
    return isStale ? { kind: 'stale', words: 'Computing …' } : { kind: 'ready', words };
  }

  return computed<Record<StageId, StageState>>(() => {
    const { axes } = machine;
    const bodies = machine.document?.mechanism.bodies.length ?? 0;
    const { sequence, loose } = machine.document ?? {};
    const held = results.failure ?? results.ask;
    const drawn = [
      ...(bodies > 0 ? [counted(bodies, 'body', 'bodies')] : []),
      ...(axes.length > 0 ? [counted(axes.length, 'axis', 'axes')] : []),
    ];
    const sheetError = cues.findings.find(({ severity }) => severity === 'error')?.text;
    const told = (sequence?.cues.length ?? 0) + (loose?.sources.length ?? 0);
    const cue: StageState =
      told === 0
        ? { kind: 'empty', words: 'No cue and no loose part yet: axes go by motions of their own.' }
        : state(
            sheetError ?? held ?? error('cycle'),
            results.stale || cues.checking,
            `${counted(sequence!.cues.length, 'cue', 'cues')}, ${counted(sequence!.sensors.length, 'sensor', 'sensors')}`,
          );
    const build = state(held ?? error('mechanism'), bodies > 0 && results.stale, drawn.join(', '));
    const broken = results.brokenFor() ?? results.coarse;
    const besides = results.beside.pending;
    const computedState = (words: string) => state(held ?? broken?.text, results.stale || besides, words);
    if (axes.length === 0) {
      const empty = { kind: 'empty', words: 'There is no axis yet: add one in Build.' } as const;
      const undriven: StageState = {
        kind: 'empty',
        words: 'No joint is driven yet: choose one in Build and drive it.',
      };
      if (bodies === 0) return { build: empty, move: empty, cue, run: empty, size: empty, deliver: empty };
      return {
        build,
        move: undriven,
        cue,
        run: computedState('The cycle is computed.'),
        size: undriven,
        deliver: undriven,
      };
    }
    const noMotor = axes.find((axis) => {
      const ranking = results.rankings[axis.id];
      return ranking !== undefined && !ranking.some(({ fits }) => fits);
    });
    const unfit = noMotor ? `No motor of the catalogue fits ${noMotor.name}.` : null;
    return {
      build,
      move: state(error('axis') ?? held, results.stale, 'The plans close and keep their limits.'),
      cue,
      run: state(held ?? broken?.text ?? error('run'), results.stale || besides, 'The cycle is computed.'),
      size: state(
        held ?? broken?.text ?? unfit,
        results.stale || results.rankingStale || besides,
        'Every axis has a motor that fits.',
      ),
      deliver: computedState('Ready to be taken away.'),
    };
  });
}
