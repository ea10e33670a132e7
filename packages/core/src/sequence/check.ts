import type { Cue, Machine } from '../machine';
import { compatible, satisfiable } from './condition';
import { compileSheet, isInitial, type Sheet } from './sheet';
import { situationFindings } from './situations';

/** What can be seen from a cue sheet before it runs. */
export interface SheetFinding {
  code:
    | 'circle'
    | 'never'
    | 'contradiction'
    | 'off'
    | 'fight'
    | 'race'
    | 'dead-end'
    | 'not-led'
    | 'no-limits'
    | 'beyond'
    | 'no-cylinder'
    | 'nothing-starts'
    | 'more';
  severity: 'error' | 'warning';
  /** Cues it is about, in order; then an axis where it is about one. */
  cues: string[];
  axis?: string;
  /** Further cues: those that lead there. */
  others?: string[];
  /** How many more findings of the kind there are than are listed. */
  count?: number;
}

/**
 * Checks a cue sheet: circles and cues that can never start, contradictions, alternatives that race, cues that could fight
 * over an axis, joins that can never be complete, and moves that cannot be made. Conditions count as free to be
 * true or false, so that fights and dead ends are possibilities; what never starts never does.
 */
export function checkSheet(machine: Pick<Machine, 'sequence' | 'axes'>): SheetFinding[] {
  const { sequence, axes } = machine;
  const cues = sequence.cues.filter(({ on }) => on);
  if (cues.length === 0) return [];
  const findings: SheetFinding[] = [];
  const sheet = compileSheet(sequence);
  const possible = new Map(cues.map(({ id, when }) => [id, when === null || satisfiable(when)]));
  const startable = neverMissing(sheet, possible);
  const dead = cues.filter(({ id }) => !startable.has(id)).map(({ id }) => id);
  const circle = circleOf(dead, cues);
  if (circle.length > 0) findings.push({ code: 'circle', severity: 'error', cues: circle });
  if (!cues.some((cue) => isInitial(cue, sequence)))
    findings.push({ code: 'nothing-starts', severity: 'error', cues: [cues[0]!.id] });
  const offCues = new Set(sequence.cues.filter(({ on }) => !on).map(({ id }) => id));
  for (const cue of cues) {
    const off = cue.after.filter((id) => offCues.has(id));
    if (off.length > 0 && !(cue.join === 'any' && off.length < cue.after.length))
      findings.push({ code: 'off', severity: 'error', cues: [cue.id], others: off });
    else if (dead.includes(cue.id) && !circle.includes(cue.id))
      findings.push({
        code: 'never',
        severity: 'warning',
        cues: [cue.id],
        others: cue.after.filter((id) => dead.includes(id)),
      });
    if (!possible.get(cue.id)) findings.push({ code: 'contradiction', severity: 'error', cues: [cue.id] });
  }
  const walked = situationFindings(sheet, cues, possible).filter(
    ({ code, cues: [id = ''] }) => code !== 'dead-end' || startable.has(id),
  );
  findings.push(...races(cues), ...moves(cues, axes), ...walked);
  return findings;
}

/** Cues that could start if all conditions were met in time. */
function neverMissing({ transitions, steps, initial }: Sheet, possible: ReadonlyMap<string, boolean>): Set<string> {
  const sheetStarts = new Set(initial);
  const startable = new Set<string>();
  const starts = transitions.filter(({ what, cue }) => what !== 'end' && possible.get(cue));
  /** Starts that wait for a link out of a cue: looked at again once that cue can start. */
  const waiting = new Map<string, typeof starts>();
  for (const start of starts)
    for (const step of start.links) {
      const link = steps[step]!;
      if (link.is !== 'link') continue;
      for (const id of link.from) waiting.set(id, [...(waiting.get(id) ?? []), start]);
    }
  const queue = [...starts];
  for (let next = queue.pop(); next; next = queue.pop()) {
    const { cue, links } = next;
    if (startable.has(cue)) continue;
    const met = links.every((step) => {
      const link = steps[step]!;
      return link.is === 'link' && (link.from.some((id) => startable.has(id)) || sheetStarts.has(step));
    });
    if (!met) continue;
    startable.add(cue);
    queue.push(...(waiting.get(cue) ?? []));
  }
  return startable;
}

/** A circle of cues that wait for each other, in the order in which they wait. */
function circleOf(dead: readonly string[], cues: readonly Cue[]): string[] {
  const deadSet = new Set(dead);
  const after = new Map(cues.map(({ id, after: before }) => [id, before.filter((other) => deadSet.has(other))]));
  for (const start of dead) {
    const path = [start];
    for (;;) {
      const next = after.get(path.at(-1)!)?.[0];
      if (next === undefined) break;
      const seen = path.indexOf(next);
      if (seen >= 0) return path.slice(seen);
      path.push(next);
    }
  }
  return [];
}

/** Races that are listed at most. */
const MOST_RACES = 60;

function races(cues: readonly Cue[]): SheetFinding[] {
  const findings: SheetFinding[] = [];
  cues.forEach((a, i) => {
    if (a.choice === null) return;
    for (let j = i + 1; j < cues.length && findings.length < MOST_RACES; j++) {
      const b = cues[j]!;
      const together = b.choice === a.choice && b.after.some((id) => a.after.includes(id));
      if (together && a.priority === b.priority && compatible(a.when, b.when))
        findings.push({ code: 'race', severity: 'warning', cues: [a.id, b.id] });
    }
  });
  return findings;
}

function moves(cues: readonly Cue[], axes: Machine['axes']): SheetFinding[] {
  return cues.flatMap((cue): SheetFinding[] => {
    const { action } = cue;
    const axis = 'axis' in action ? axes.find(({ id }) => id === action.axis) : undefined;
    if (!axis) return [];
    const about = { cues: [cue.id], axis: axis.id };
    if (action.do !== 'load' && axis.motion.source.kind !== 'cues')
      return [{ code: 'not-led', severity: 'error', ...about }];
    if (action.do === 'cylinder' && !axis.cylinder) return [{ code: 'no-cylinder', severity: 'error', ...about }];
    if (action.do !== 'move') return [];
    const found: SheetFinding[] = [];
    const velocity = action.velocity ?? axis.limits.velocity;
    const acceleration = action.acceleration ?? axis.limits.acceleration;
    const bounded = action.law
      ? velocity !== null || acceleration !== null
      : velocity !== null && acceleration !== null;
    if (action.time === null && !bounded) found.push({ code: 'no-limits', severity: 'error', ...about });
    const { travel } = axis;
    if (action.given === 'to' && travel && (action.value < travel.min - 1e-9 || action.value > travel.max + 1e-9))
      found.push({ code: 'beyond', severity: 'error', ...about });
    return found;
  });
}

/** A finding of the sheet in words: what is wrong, and what to do. */
export function explainSheetFinding(finding: SheetFinding, machine: Pick<Machine, 'sequence' | 'axes'>): string {
  const cue = (id: string) => `“${machine.sequence.cues.find((c) => c.id === id)?.name ?? id}”`;
  const axis = machine.axes.find(({ id }) => id === finding.axis)?.name ?? '';
  const [a = '', b = ''] = finding.cues;
  const others = (finding.others ?? []).map(cue).join(' and ');
  switch (finding.code) {
    case 'circle':
      return finding.cues.length > 1
        ? `Deadlock: ${[...finding.cues, a].map(cue).join(' waits for ')}. Take one of them out of the circle.`
        : `Deadlock: ${cue(a)} waits for itself. Let it come after another cue.`;
    case 'never':
      return `${cue(a)} never starts: it waits for ${others || 'what never comes'}, which never starts either.`;
    case 'contradiction':
      return `${cue(a)} never starts: its condition contradicts itself.`;
    case 'off':
      return `${cue(a)} never starts: ${others} is switched off. Switch it on, or let ${cue(a)} come after another cue.`;
    case 'fight':
      return `${cue(a)} and ${cue(b)} may both want to move ${axis} at a time. Let one come after the other, forbid it by an interlock, or give one a higher priority.`;
    case 'race':
      return `${cue(a)} and ${cue(b)} are alternatives that may hold at the same instant; then the upper one goes. Make their conditions exclude each other, or give one a higher priority.`;
    case 'dead-end':
      return `${cue(a)} may wait for ever: ${others} need not all run. Join alternatives by “any”.`;
    case 'not-led':
      return `${cue(a)} moves ${axis}, but ${axis} goes by a motion of its own. Let cues lead the axis.`;
    case 'no-limits':
      return `${cue(a)} gives ${axis} neither a time nor limits of velocity and acceleration. Type a time, or the limits of the axis in Build.`;
    case 'beyond':
      return `${cue(a)} leads ${axis} beyond its travel. Change the target, or the travel in Build.`;
    case 'no-cylinder':
      return `${cue(a)} switches ${axis}, which is no cylinder. Make it one in Build.`;
    case 'more':
      return `${finding.count} more pairs of cues may want to move one axis at a time.`;
    case 'nothing-starts':
      return 'No cue starts: each waits for another one. Let one come after none.';
  }
}
