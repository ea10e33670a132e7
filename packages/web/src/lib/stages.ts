/** The stages, in the order of the job; `digit` is the key that leads there. */
export const STAGES = [
  { id: 'build', label: 'Build', digit: '1', question: 'What moves, and what is it tied to?' },
  { id: 'move', label: 'Move', digit: '2', question: 'How shall each axis move?' },
  { id: 'cue', label: 'Cue', digit: '3', question: 'What starts what?' },
  { id: 'run', label: 'Run', digit: '4', question: 'What happens, and when?' },
  { id: 'size', label: 'Size', digit: '5', question: 'Which motor and gear?' },
  { id: 'deliver', label: 'Deliver', digit: '6', question: 'How does it reach the machine and the colleague?' },
] as const;

export type StageId = (typeof STAGES)[number]['id'];
