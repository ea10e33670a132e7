import type { SheetStep } from '../sequence';
import type { CycleEvent, CycleEventKind, CycleFinding } from './events';

/** The events of a run as they come, and what last happened to what. */
export class EventLog {
  readonly events: CycleEvent[] = [];
  readonly findings: CycleFinding[] = [];
  private readonly latest = new Map<string, number>();

  /** Notes an event; causes without a number are left out, the others stand in the order in which they came. */
  add(
    time: number,
    kind: CycleEventKind,
    subject: string,
    causes: readonly (number | null | undefined)[],
    more: Partial<CycleEvent> = {},
  ): number {
    const index = this.events.length;
    const needed = [...new Set(causes.filter((c): c is number => typeof c === 'number'))].sort(
      (a, b) => this.events[a]!.time - this.events[b]!.time || a - b,
    );
    this.events.push({ index, time, kind, subject, causes: needed, ...more });
    this.latest.set(`${kind} ${subject}`, index);
    return index;
  }

  /** Index of the last event of a kind about a thing. */
  last(kind: CycleEventKind, subject: string): number | null {
    return this.latest.get(`${kind} ${subject}`) ?? null;
  }

  /** Notes a finding once for the same things. */
  find(finding: CycleFinding): void {
    const same = (other: CycleFinding) =>
      other.code === finding.code && other.subjects.join(' ') === finding.subjects.join(' ');
    if (!this.findings.some(same)) this.findings.push(finding);
  }
}

/** A cue has ended again before what waits for it had started: one of the two is lost. */
export function logOverrun(link: SheetStep, log: EventLog, time: number): void {
  if (link.is !== 'link' || link.to.length === 0) return;
  const late = link.to[0]!;
  const causes = link.from.map((id) => log.last('ended', id));
  log.add(time, 'overrun', late, causes, { other: link.from[0] ?? '' });
  log.find({ code: 'overrun', severity: 'warning', time, subjects: [...link.from, late] });
}
