/** Something due at a time; {@link Agenda.cancel} takes it off. */
export interface Due {
  time: number;
  order: number;
  run: (time: number) => void;
}

/** What is to happen, in order of time; what is due together happens in the order in which it was entered. */
export class Agenda {
  private readonly list: Due[] = [];
  private order = 0;

  add(time: number, run: (time: number) => void): Due {
    const due: Due = { time, order: this.order++, run };
    let low = 0;
    let high = this.list.length;
    while (low < high) {
      const middle = (low + high) >>> 1;
      if (this.list[middle]!.time <= time) low = middle + 1;
      else high = middle;
    }
    this.list.splice(low, 0, due);
    return due;
  }

  cancel(due: Due | undefined): void {
    const at = due ? this.list.indexOf(due) : -1;
    if (at >= 0) this.list.splice(at, 1);
  }

  /** Time of the next entry; Infinity where there is none. */
  get next(): number {
    return this.list[0]?.time ?? Infinity;
  }

  /** Takes the next entry off. */
  pop(): Due | undefined {
    return this.list.shift();
  }

  get size(): number {
    return this.list.length;
  }
}
