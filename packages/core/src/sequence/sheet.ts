import type { Cue, Sequence } from '../machine';
import type { Transition } from './net';

/** What a step of the net of a cue sheet stands for. */
export type SheetStep =
  | { is: 'ready'; cue: string }
  | { is: 'active'; cue: string }
  /** Between cues: what came before has ended, what comes after has not begun. */
  | { is: 'link'; from: readonly string[]; to: readonly string[] };

/** A transition of a cue sheet: the start of a cue, its start by a time-out, or its end. */
export interface SheetTransition extends Transition {
  cue: string;
  what: 'start' | 'forced' | 'end';
  /** Links it waits for. */
  links: readonly number[];
}

/** A cue sheet as steps and transitions. */
export interface Sheet {
  steps: SheetStep[];
  transitions: SheetTransition[];
  initial: number[];
  /** Step that forces a cue to start by a time-out, by cue. */
  forced: Map<string, number>;
  active: Map<string, number>;
}

/** Cues that wait for nothing before them: they start with the run, or whenever their condition comes true. */
export const isInitial = (cue: Cue, sequence: Pick<Sequence, 'cues'>): boolean =>
  cue.after.length === 0 && !forcedCues(sequence).has(cue.id);

/** Cues that a time-out starts. */
function forcedCues({ cues }: Pick<Sequence, 'cues'>): Set<string> {
  return new Set(
    cues.flatMap(({ timeOut, on }) => (on && timeOut?.then === 'cue' && timeOut.cue ? [timeOut.cue] : [])),
  );
}

/**
 * Turns a cue sheet into a net (IEC 60848): each cue is a transition with the step behind it that carries its action,
 * and a transition that ends it; links between cues are steps without action. Several cues after one run in
 * parallel, alternatives share a link; a cue joins all it comes after, or any of them.
 */
export function compileSheet(sequence: Pick<Sequence, 'cues'>): Sheet {
  const cues = sequence.cues.filter(({ on }) => on);
  const known = new Set(cues.map(({ id }) => id));
  const steps: SheetStep[] = [];
  const add = (step: SheetStep) => steps.push(step) - 1;
  const ready = new Map(cues.map(({ id }) => [id, add({ is: 'ready', cue: id })]));
  const active = new Map(cues.map(({ id }) => [id, add({ is: 'active', cue: id })]));
  const initial = [...ready.values()];
  const links = new Map<string, number>();
  const outOf = new Map<string, Set<number>>(cues.map(({ id }) => [id, new Set()]));
  const link = (key: string, from: string[], to: string) => {
    let at = links.get(key);
    if (at === undefined) links.set(key, (at = add({ is: 'link', from: [], to: [] })));
    const step = steps[at] as Extract<SheetStep, { is: 'link' }>;
    steps[at] = { is: 'link', from: [...new Set([...step.from, ...from])], to: [...new Set([...step.to, to])] };
    for (const id of from) outOf.get(id)?.add(at);
    return at;
  };
  const transitions: SheetTransition[] = [];
  const forced = new Map<string, number>();
  const byTimeOut = forcedCues(sequence);
  for (const cue of cues) {
    const after = cue.after.filter((id) => known.has(id));
    const waits: number[] = [];
    if (cue.after.length > 0) {
      if (cue.join === 'any')
        waits.push(link(cue.choice === null ? `any ${cue.id}` : `any choice ${cue.choice}`, after, cue.id));
      else
        for (const id of cue.after)
          waits.push(
            link(
              cue.choice === null ? `${id} ${cue.id}` : `${id} choice ${cue.choice}`,
              known.has(id) ? [id] : [],
              cue.id,
            ),
          );
    }
    // What waits for nothing at all starts with the run, once.
    if (isInitial(cue, sequence) && cue.when === null) {
      const once = add({ is: 'link', from: [], to: [cue.id] });
      initial.push(once);
      waits.push(once);
    }
    const own = { cue: cue.id, links: waits, priority: cue.priority };
    const to = [active.get(cue.id)!];
    if (cue.after.length > 0 || !byTimeOut.has(cue.id))
      transitions.push({
        ...own,
        id: `start ${cue.id}`,
        what: 'start',
        from: [ready.get(cue.id)!, ...waits],
        to,
        ...(cue.choice === null || waits.length === 0 ? {} : { exclusive: `${cue.choice} ${waits.join(' ')}` }),
      });
    if (byTimeOut.has(cue.id)) {
      const step = add({ is: 'link', from: [], to: [cue.id] });
      forced.set(cue.id, step);
      transitions.push({ ...own, id: `forced ${cue.id}`, what: 'forced', from: [ready.get(cue.id)!, step], to });
    }
  }
  for (const { id } of cues)
    transitions.push({
      id: `end ${id}`,
      cue: id,
      what: 'end',
      links: [],
      from: [active.get(id)!],
      to: [ready.get(id)!, ...outOf.get(id)!],
    });
  return { steps, transitions, initial, forced, active };
}
