/**
 * Something on a controller that can be moved, as it is kept in files: `cc.7`, `cc14.1`, `nrpn.300`, `relative.20`,
 * `note.36`, `program.5`, `bend`, `pressure`, `keyPressure`.
 */
export type ControlId = string;
export type ControlKind =
  'cc' | 'cc14' | 'nrpn' | 'relative' | 'note' | 'program' | 'bend' | 'pressure' | 'keyPressure';
export interface Control {
  kind: ControlKind;
  number: number;
}

const HIGHEST: Partial<Record<ControlKind, number>> = {
  cc: 119,
  cc14: 31,
  nrpn: 16383,
  relative: 119,
  note: 127,
  program: 127,
};

/** The control an id means, or undefined for a text that names none. */
export function parseControl(id: ControlId): Control | undefined {
  if (id === 'bend' || id === 'pressure' || id === 'keyPressure') return { kind: id, number: 0 };
  const match = /^(cc|cc14|nrpn|relative|note|program)\.(\d{1,5})$/.exec(id);
  if (!match) return undefined;
  const kind = match[1] as ControlKind;
  return Number(match[2]) <= HIGHEST[kind]! ? { kind, number: Number(match[2]) } : undefined;
}

const WORDS: Record<ControlKind, string> = {
  cc: 'CC',
  cc14: 'CC',
  nrpn: 'NRPN',
  relative: 'encoder CC',
  note: 'note',
  program: 'program',
  bend: 'bend',
  pressure: 'aftertouch',
  keyPressure: 'poly aftertouch',
};

/** What people call it: `CC 7`, `CC 1 (14 bit)`, `NRPN 300`. */
export function labelOfControl(id: ControlId): string {
  const control = parseControl(id);
  if (!control) return id;
  const { kind, number } = control;
  const bare = kind === 'bend' || kind === 'pressure' || kind === 'keyPressure';
  return `${WORDS[kind]}${bare ? '' : ` ${number}`}${kind === 'cc14' ? ' (14 bit)' : ''}`;
}
