import { GROUND, type Condition, type Machine } from '../machine';
import { AXIS_KINDS, formatQuantity, type QuantityKind, type UnitSystem } from '../quantity';
import { conditionText } from '../sequence';
import type { CycleEnd, CycleEvent, CycleFinding, CueMove } from './events';
import type { ChainLink } from './chain';
import type { WaitingReport } from './waiting';

/** Names of everything in a run, by identifier. */
export class CycleNames {
  constructor(private readonly machine: Machine) {}

  private named(list: readonly { id: string; name: string }[], id: string): string {
    return list.find((item) => item.id === id)?.name ?? id;
  }

  cue(id: string): string {
    return this.named(this.machine.sequence.cues, id);
  }
  sensor(id: string): string {
    return this.named(this.machine.sequence.sensors, id);
  }
  axis(id: string): string {
    return this.named(this.machine.axes, id);
  }
  source(id: string): string {
    return this.named(this.machine.loose.sources, id);
  }
  sink(id: string): string {
    return this.named(this.machine.loose.sinks, id);
  }
  gripper(id: string): string {
    return this.named(this.machine.loose.grippers, id);
  }
  body(id: string): string {
    return id === GROUND ? 'ground' : this.named([...this.machine.mechanism.bodies, ...this.machine.axes], id);
  }
  interlock(id: string): string {
    return this.named(this.machine.sequence.interlocks, id);
  }
  monitor(id: string): string {
    const { monitors, spacings = [] } = this.machine.sequence;
    return this.named([...monitors, ...spacings], id);
  }
  part(number: number | undefined): string {
    return number === undefined ? 'a part' : `part ${number + 1}`;
  }
}

const seconds = (value: number, system: UnitSystem) => formatQuantity(value, 'time', system);

/** An event in words: `Photo-eye 2 on`, `Lift starts`, `Gripper takes part 3`. */
export function explainEvent(event: CycleEvent, machine: Machine): string {
  const names = new CycleNames(machine);
  const { subject, other = '' } = event;
  const system = machine.units;
  switch (event.kind) {
    case 'begin':
      return 'The run begins';
    case 'sensor':
      return `${names.sensor(subject)} ${event.on ? 'on' : 'off'}`;
    case 'cue':
      return `Cue ${names.cue(subject)}${event.value ? ` after ${seconds(event.value, system)}` : ''}`;
    case 'acts':
      return `${names.cue(subject)} acts`;
    case 'ended':
      return `${names.cue(subject)} ended`;
    case 'blocked':
      return `${names.cue(subject)} held back by ${names.interlock(other)}: ${event.text ?? ''}`;
    case 'held':
      return `${names.cue(subject)} stopped by ${names.interlock(other)}: ${event.text ?? ''}`;
    case 'goes-on':
      return `${names.cue(subject)} goes on`;
    case 'released':
      return `${names.source(subject)} releases ${names.part(event.part)}`;
    case 'held-back':
      return `${names.source(subject)} waits: its place is taken`;
    case 'took':
      return `${names.gripper(subject)} takes ${names.part(event.part)}`;
    case 'let-go':
      return event.part === undefined
        ? `${names.gripper(subject)} opens, empty`
        : `${names.gripper(subject)} lets go of ${names.part(event.part)}`;
    case 'lost':
      return `${names.gripper(subject)} loses ${names.part(event.part)}${event.value === undefined ? '' : ` at ${formatQuantity(event.value, 'force', system)}`}`;
    case 'slips':
      return `${names.part(event.part)} slips in ${names.gripper(subject)}`;
    case 'gone':
      return `${names.part(event.part)} ends in ${names.sink(subject)}`;
    case 'left':
      return `${names.part(event.part)} falls out of the machine`;
    case 'time-out':
      return event.text === 'starts'
        ? `${names.cue(subject)} starts instead of ${names.cue(other)}`
        : `Time-out of ${names.cue(subject)}`;
    case 'alarm':
      return `Alarm: ${event.text ?? ''}`;
    case 'fight':
      return `${names.cue(subject)} waits for the axis that ${names.cue(other)} moves`;
    case 'taken-over':
      return `${names.cue(subject)} takes the axis over from ${names.cue(other)}`;
    case 'overrun':
      return `${names.cue(other)} ended again before ${names.cue(subject)} had started`;
    case 'pulse':
      return `${names.sensor(subject)} changed and went back between two scans`;
    case 'emergency':
      return 'Emergency stop';
    case 'monitor':
      return `${names.monitor(subject)}: too close`;
    case 'cycle':
      return `Cycle ${event.value ?? 1} begins`;
    case 'stop':
      return 'Stop';
    case 'end':
      return 'The run ends';
  }
}

/**
 * The line of causes that led to an event, the deciding one of each: “Photo-eye 2 on → cue Lift after 40 ms → axis
 * lift moves 0.31 to 0.62 s”.
 */
export function causeLine(
  events: readonly CycleEvent[],
  index: number,
  moves: readonly CueMove[],
  machine: Machine,
  steps = 3,
): { text: string; time: number; event: number }[] {
  const names = new CycleNames(machine);
  const line: { text: string; time: number; event: number }[] = [];
  let event: CycleEvent | undefined = events[index];
  while (event && line.length < steps && event.kind !== 'begin') {
    const move = event.kind === 'acts' ? moves.find(({ started }) => started === event!.index) : undefined;
    const [from, to] = move ? [move.from, move.to].map((t) => formatQuantity(t, 'time', machine.units)) : ['', ''];
    const text = move ? `${names.axis(move.axis)} moves ${from} to ${to}` : explainEvent(event, machine);
    line.unshift({ text, time: event.time, event: event.index });
    const last: number | undefined = event.causes.at(-1);
    event = last === undefined ? undefined : events[last];
    // The start of a cue and the beginning of its action at the same time are one step.
    if (event && event.kind === 'begin') break;
  }
  return line;
}

const list = (items: readonly string[]) =>
  items.length < 2 ? (items[0] ?? '') : `${items.slice(0, -1).join(', ')} and ${items.at(-1)!}`;

/** Why a run came to its end, one sentence. */
export function explainEnd(end: CycleEnd, machine: Machine): string {
  const { most, cycles } = machine.sequence.cycle;
  switch (end) {
    case 'cycles':
      return `${cycles === 1 ? 'The cycle is' : `All ${String(cycles)} cycles are`} complete.`;
    case 'stop':
      return 'A cue stopped the cycle.';
    case 'longest':
      return `The longest run, ${seconds(most, machine.units)}, is over.`;
    case 'waiting':
      return 'Nothing goes on: cues wait for something that does not come.';
    case 'idle':
      return 'Nothing more is to be done.';
    case 'emergency':
      return 'The emergency stop brought everything to rest.';
    case 'monitor':
      return 'A monitor stopped the run.';
    case 'stuck':
      return 'The mechanism cannot follow its axes.';
    case 'endless':
      return 'Cues start each other without any time passing.';
    case 'too-much':
      return 'The run came to more events or parts than are kept.';
    case 'timed':
      return 'The timed motions are over.';
  }
}

/** What each waiting cue waits for, in words. */
export function explainWaitingCues(report: WaitingReport, machine: Machine): { cue: string; text: string }[] {
  const names = new CycleNames(machine);
  const distance = (value: number) => formatQuantity(value, 'length', machine.units);
  return report.cues.map(({ cue, lacks, terms, blockedBy, running, nearest }) => {
    const { action } = machine.sequence.cues.find(({ id }) => id === cue)!;
    const reasons: string[] = [];
    if (running && action.do === 'take') {
      const gripper = machine.loose.grippers.find(({ id }) => id === action.gripper);
      reasons.push(
        `${gripper?.name ?? 'The gripper'} finds no part within ${distance(gripper?.reach ?? 0)}` +
          (nearest
            ? `; the nearest, part ${nearest.part + 1}, is ${distance(Math.max(0, nearest.distance))} away`
            : '; there is none'),
      );
    } else if (running) reasons.push('its action does not come to an end');
    if (lacks.length > 0)
      reasons.push(`${list(lacks.map((id) => `“${names.cue(id)}”`))} ${lacks.length > 1 ? 'have' : 'has'} not ended`);
    if (terms.length > 0)
      reasons.push(list(terms.map(({ term, is }) => `“${termText(term, machine)}” is ${is ? 'true' : 'not true'}`)));
    for (const id of blockedBy) {
      const lock = machine.sequence.interlocks.find((l) => l.id === id);
      reasons.push(`the interlock “${lock?.name ?? id}” forbids it: ${lock?.reason ?? ''}`);
    }
    return { cue, text: reasons.join('; ') || 'it waits for nothing that could be named' };
  });
}

const termText = (term: Condition, machine: Machine) => conditionText(term, machine);

/** A finding of a simulated cycle in words: what is wrong, and what to do. */
export function explainCycleFinding(finding: CycleFinding, machine: Machine): string {
  const names = new CycleNames(machine);
  const [a = '', b = '', c = ''] = finding.subjects;
  const q = (value: number | undefined, kind: QuantityKind) => formatQuantity(value ?? 0, kind, machine.units);
  const at = finding.time === null ? '' : ` at ${q(finding.time, 'time')}`;
  const cues = finding.subjects.map((id) => `“${names.cue(id)}”`);
  switch (finding.code) {
    case 'deadlock':
      return cues.length > 1
        ? `Deadlock: ${[...cues, cues[0]!].join(' waits for ')}. None of them can start: take one of these conditions away.`
        : `The cycle stands still${at}: ${cues[0] ?? 'a cue'} waits for something that does not come.`;
    case 'waits':
      return `The run ends waiting${at}: ${list(cues)} ${cues.length > 1 ? 'wait' : 'waits'} for what does not come again.`;
    case 'never':
      return `${cues[0]!} never started in this run.`;
    case 'fight':
      return `${cues[0]!} wanted to move ${names.axis(c)}${at} while “${names.cue(b)}” moved it: it had to wait. Let one start after the other, or give one a higher priority.`;
    case 'taken-over':
      return `“${names.cue(a)}” took ${names.axis(c)} over from “${names.cue(b)}”${at}, as its higher priority says.`;
    case 'race':
      return `Race${at}: ${list(cues)} could start at the same instant; the first in the sheet went. Make their conditions exclude each other, or give one a higher priority.`;
    case 'overrun':
      return `“${names.cue(a)}” ended twice before “${names.cue(finding.subjects.at(-1)!)}” had started${at}: one of the two is lost.`;
    case 'pulse':
      return `“${names.sensor(a)}” changed and went back between two scans of the controller${at}: the change was not seen. Shorten the scan or lengthen the signal with an off-delay.`;
    case 'endless':
      return `${list(cues)} start each other without any time passing${at}: give one of them a delay or a condition.`;
    case 'too-much':
      return `The run had come to ${finding.value ?? 0} ${finding.text ?? 'events'}${at} and was ended there: shorten the longest run, let sources release fewer parts and sinks take them away, or let cues start less often.`;
    case 'no-limits':
      return `“${names.cue(a)}” gives ${names.axis(b)} neither a time nor limits of velocity and acceleration: it did not move. Type one of them.`;
    case 'too-short':
      return `“${names.cue(a)}” wants ${names.axis(b)} to move in less time than its limits allow: it took ${q(finding.value, 'time')}.`;
    case 'slow':
      return `“${names.cue(a)}” runs too short for its ramps${at}: ${names.axis(b)} gets up to ${q(finding.value, AXIS_KINDS[machine.axes.find(({ id }) => id === b)?.kind ?? 'linear'].velocity)} only. Let it run longer, or shorten its ramp.`;
    case 'lost':
      return `${names.gripper(a)} lost its part${at}: ${q(finding.value, 'force')} was needed, more than it holds. Move more gently or let it hold more.`;
    case 'slips':
      return `A part slipped in ${names.gripper(a)}${at}: its fingers press with ${q(finding.value, 'force')} each, and friction at that does not hold it. Let them press harder, move more gently, or give their faces more friction.`;
    case 'missed':
      return `Part ${(finding.value ?? 0) + 1} was missed: it ended in ${names.sink(a)}${at}.`;
    case 'left':
      return `Part ${(finding.value ?? 0) + 1} of ${names.source(a)} fell out of the machine${at}.`;
    case 'held-back':
      return `${names.source(a)} could not release${at}: another part stood in its place.`;
    case 'alarm':
      return `Alarm of “${names.cue(a)}”${at}: ${finding.text ?? ''}`;
    case 'time-out':
      return `“${names.cue(a)}” was not done within ${q(finding.value, 'time')}${at}.`;
    case 'emergency':
      return `Emergency stop${at}.`;
    case 'interference':
      return `${names.monitor(a)}: ${names.body(b)} and ${names.body(c)} touch${at}.`;
    case 'clearance':
      return `${names.monitor(a)}: ${names.body(b)} and ${names.body(c)} come closer than wanted${at}.`;
    case 'stuck':
      return `The mechanism cannot follow its axes${at}: the run ends there. Run shows where it stands.`;
    case 'longest':
      return `The run was cut off after ${q(finding.value, 'time')} before its cycles were complete: allow a longer run, or see below what it waits for.`;
    case 'blocked':
      return `${cues[0]!} is held back${at}.`;
    case 'held':
      return `${cues[0]!} was stopped on its way by the interlock “${names.interlock(b)}”${at}: ${finding.text ?? ''}`;
  }
}

/** A link of the critical chain in words. */
export function explainLink(link: ChainLink, events: readonly CycleEvent[], machine: Machine): string {
  const names = new CycleNames(machine);
  switch (link.what) {
    case 'action':
      return names.cue(link.subject);
    case 'delay':
      return `Delay of ${names.cue(link.subject)}`;
    case 'part':
    case 'sensor':
    case 'wait':
      return `${explainEvent(events[link.from]!, machine)} … ${explainEvent(events[link.to]!, machine)}`;
  }
}
