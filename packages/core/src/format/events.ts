import { explainEvent, type CycleRecord } from '../cycle';
import type { Machine } from '../machine';
import { writeCsv } from './csv';

/** Everything that happened in a run as CSV: the time, the event, and the event that decided when it came. */
export function eventsCsv({ events }: Pick<CycleRecord, 'events'>, machine: Machine): string {
  const rows = events.map((event) => {
    const cause = event.causes.at(-1);
    return [
      String(Number(event.time.toFixed(9))),
      event.kind,
      explainEvent(event, machine),
      cause === undefined ? '' : explainEvent(events[cause]!, machine),
    ];
  });
  return writeCsv(['t [s]', 'kind', 'event', 'cause'], rows);
}
