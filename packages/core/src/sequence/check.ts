import { conditionTerms, type Condition, type Cue, type Machine } from '../machine';
import { compatible, satisfiable } from './condition';
import { compileSheet, isInitial, type Sheet } from './sheet';

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
    | 'nothing-starts';
  severity: 'error' | 'warning';
  /** Cues it is about, in order; then an axis where it is about one. */
  cues: string[];
  axis?: string;
  /** Further cues: those that lead there. */
  others?: string[];
}

/** Situations looked at before the search for fights and dead ends is given up. */
const MOST_SITUATIONS = 4000;

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
  const startable = neverMissing(sheet, cues);
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
    if (cue.when && !satisfiable(cue.when)) findings.push({ code: 'contradiction', severity: 'error', cues: [cue.id] });
  }
  const walked = situations(sheet, cues).filter(
    ({ code, cues: [id = ''] }) => code !== 'dead-end' || startable.has(id),
  );
  findings.push(...races(cues), ...moves(cues, axes), ...walked);
  return findings;
}

/** Cues that could start if all conditions were met in time. */
function neverMissing({ transitions, steps, initial }: Sheet, cues: readonly Cue[]): Set<string> {
  const sheetStarts = new Set(initial);
  const startable = new Set<string>();
  const known = new Map(cues.map((cue) => [cue.id, cue]));
  for (let grown = true; grown;) {
    grown = false;
    for (const { cue, what, links } of transitions) {
      if (what === 'end' || startable.has(cue)) continue;
      const when = known.get(cue)?.when ?? null;
      const met = links.every((step) => {
        const link = steps[step]!;
        return link.is === 'link' && (link.from.some((id) => startable.has(id)) || sheetStarts.has(step));
      });
      if (!met || (when && !satisfiable(when))) continue;
      startable.add(cue);
      grown = true;
    }
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

function races(cues: readonly Cue[]): SheetFinding[] {
  const findings: SheetFinding[] = [];
  cues.forEach((a, i) => {
    if (a.choice === null) return;
    for (const b of cues.slice(i + 1)) {
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

/** Walks through all situations the sheet can come to, each transition by itself, conditions free. */
function situations(sheet: Sheet, cues: readonly Cue[]): SheetFinding[] {
  const { transitions, steps, initial, active } = sheet;
  const start = new Uint8Array(steps.length);
  for (const step of initial) start[step] = 1;
  const axisOf = new Map(
    cues.flatMap(({ id, action }) => ('axis' in action && action.do !== 'load' ? [[id, action.axis] as const] : [])),
  );
  const never = new Set(cues.filter(({ when }) => when && !satisfiable(when)).map(({ id }) => id));
  const stops = new Set(cues.filter(({ action }) => action.do === 'stop').map(({ id }) => id));
  const conditions = new Map(cues.map(({ id, when }) => [id, when]));
  // What stands in no row begins again and again: once is enough for the search.
  const rows = transitions.filter(({ what, cue }) => what === 'end' || !never.has(cue));
  const downstream = new Map(cues.map(({ id }) => [id, reachedFrom(id, cues)]));
  const seen = new Set<string>();
  const fights = new Map<string, SheetFinding>();
  const ends = new Map<string, SheetFinding>();
  const queue: { at: Uint8Array; started: number }[] = [{ at: start, started: 0 }];
  seen.add(start.join(''));
  while (queue.length > 0) {
    const { at, started } = queue.pop()!;
    noteFights(at);
    // A row that a sensor begins is not begun again before it has come to its end; runs find it where it is.
    const able = rows.filter(
      ({ from, what, links, cue }) =>
        from.every((step) => at[step] === 1) && (what !== 'start' || links.length > 0 || !underWay(cue, at)),
    );
    const waiting = steps.flatMap((step, i) => (step.is === 'link' && at[i] === 1 ? [step] : []));
    const onlyBeginnings = able.every((t) => t.what === 'start' && t.links.length === 0);
    const done = [...stops].some((id) => at[active.get(id)!] === 1);
    if (onlyBeginnings && waiting.length > 0 && !done && started > 0)
      noteEnd(waiting.flatMap(({ from, to }) => [{ from, to }]));
    for (const transition of able) {
      if (done) break;
      const next = Uint8Array.from(at);
      for (const step of transition.from) next[step] = 0;
      for (const step of transition.to) next[step] = 1;
      const key = next.join('');
      if (seen.has(key) || seen.size >= MOST_SITUATIONS) continue;
      seen.add(key);
      queue.push({ at: next, started: started + 1 });
    }
  }
  return [...fights.values(), ...ends.values()];

  function underWay(cue: string, at: Uint8Array): boolean {
    const row = downstream.get(cue)!;
    return steps.some(
      (step, i) =>
        at[i] === 1 &&
        (step.is === 'active' ? row.has(step.cue) : step.is === 'link' && step.to.some((id) => row.has(id))),
    );
  }

  function noteFights(at: Uint8Array): void {
    const running = [...axisOf].filter(([id]) => at[active.get(id)!] === 1);
    running.forEach(([a, axis], i) => {
      for (const [b, other] of running.slice(i + 1)) {
        if (other !== axis || fights.has(`${a} ${b}`)) continue;
        const [first, second] = [a, b].map((id) => cues.find((cue) => cue.id === id)!);
        if (
          first!.priority !== second!.priority ||
          excluded(conditions.get(a) ?? null, b) ||
          excluded(conditions.get(b) ?? null, a)
        )
          continue;
        fights.set(`${a} ${b}`, { code: 'fight', severity: 'warning', cues: [a, b], axis });
      }
    });
  }

  function noteEnd(links: { from: readonly string[]; to: readonly string[] }[]): void {
    // Joins that lack one of their branches for ever.
    const waitingCues = new Set(links.flatMap(({ to }) => to));
    for (const id of waitingCues) {
      const row = transitions.find((t) => t.what === 'start' && t.cue === id);
      if (!row || row.links.length < 2 || ends.has(id)) continue;
      ends.set(id, {
        code: 'dead-end',
        severity: 'warning',
        cues: [id],
        others: cues.find((cue) => cue.id === id)!.after,
      });
    }
  }
}

/** A cue and all that come after it. */
function reachedFrom(id: string, cues: readonly Cue[]): Set<string> {
  const reached = new Set([id]);
  for (let size = 0; size !== reached.size;) {
    size = reached.size;
    for (const cue of cues) if (cue.after.some((other) => reached.has(other))) reached.add(cue.id);
  }
  return reached;
}

/** Whether a condition keeps a cue from starting while another one runs. */
function excluded(condition: Condition | null, running: string): boolean {
  if (!condition) return false;
  if (!conditionTerms(condition).some((term) => term.op === 'running' && term.cue === running)) return false;
  return !compatible(condition, { op: 'running', cue: running });
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
    case 'nothing-starts':
      return 'No cue starts: each waits for another one. Let one come after none.';
  }
}
