import { readMachine, type Machine } from '@yoke/core';
import type { Patch } from 'immer';

/** One step that can be undone: what it changed, and how it is taken back. */
export interface Step {
  label: string;
  /** Edits with the same key follow one another as one step, as in a drag. */
  key: string | undefined;
  forward: Patch[];
  back: Patch[];
}

/** What was done to a document, and what of it was undone, oldest first. */
export interface History {
  undo: readonly Step[];
  redo: readonly Step[];
}

/** Letters of history that a window keeps of a machine; beyond it the oldest steps go. */
const MOST_LETTERS = 1_500_000;
const keyOf = (machineId: string) => `yoke-history-${machineId}`;

/** Tells documents apart, whatever order their fields stand in: length and FNV-1a of the text. */
function markOf(document: Machine): string {
  const read = readMachine(document);
  const text = JSON.stringify(read.ok ? read.machine : document);
  let hash = 0x811c9dc5;
  for (let i = 0; i < text.length; i++) hash = Math.imul(hash ^ text.charCodeAt(i), 0x01000193);
  return `${text.length}.${(hash >>> 0).toString(36)}`;
}

/** Keeps the history of a document over a reload of its window. */
export function keepHistory(machineId: string, document: Machine, { undo, redo }: History): void {
  try {
    if (undo.length + redo.length === 0) {
      sessionStorage.removeItem(keyOf(machineId));
      return;
    }
    const kept = { mark: markOf(document), undo: [...undo], redo: [...redo] };
    let text = JSON.stringify(kept);
    while (text.length > MOST_LETTERS && kept.undo.length > 0) {
      kept.undo.splice(0, Math.ceil(kept.undo.length / 4));
      text = JSON.stringify(kept);
    }
    if (text.length <= MOST_LETTERS) sessionStorage.setItem(keyOf(machineId), text);
    else sessionStorage.removeItem(keyOf(machineId));
  } catch {
    // A browser without room keeps no history; the document itself is kept elsewhere.
  }
}

/** The history of a document as this window kept it; null where it is that of another state of the document. */
export function findHistory(machineId: string, document: Machine): History | null {
  try {
    const text = sessionStorage.getItem(keyOf(machineId));
    if (text === null) return null;
    const { mark, undo, redo } = JSON.parse(text) as { mark: string } & History;
    return mark === markOf(document) ? { undo, redo } : null;
  } catch {
    return null;
  }
}
