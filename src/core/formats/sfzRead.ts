import type { Zone } from '../rig/schema';
import { readSfzText } from './sfzText';
import { zoneOf } from './sfzZone';
import { type SfzSample, Opcodes } from './sfzZone';

/**
 * Something that was not carried over: an opcode (with its value where only that value means nothing here), and how
 * many regions had it.
 */
export interface NotCarried {
  what: string;
  count: number;
}
export interface SfzReading {
  zones: Zone[];
  notCarried: NotCarried[];
  warnings: string[];
}

/**
 * The zones of an SFZ file. `sampleOf` finds a sample by its path inside the folder. What has no meaning here is
 * listed, never silently dropped.
 * Throws a FileError for text that cannot be read at all.
 */
export function readSfz(
  text: string,
  name: string,
  include: (path: string) => string | undefined,
  sampleOf: (path: string) => SfzSample | undefined,
): SfzReading {
  const lost = new Map<string, number>();
  const lose = (what: string) => lost.set(what, (lost.get(what) ?? 0) + 1);
  const warned = new Map<string, number>();
  const warn = (line: string) => warned.set(line, (warned.get(line) ?? 0) + 1);
  const zones: Zone[] = [];
  /** By place: turns in the round of a zone. */
  const rounds: number[] = [];
  let keyOffset = 0;
  let defaultPath = '';
  const { control, regions, otherHeaders } = readSfzText(text, name, include, {
    control: (opcodes) => {
      const controls = new Opcodes(opcodes, lose);
      keyOffset = controls.number('note_offset', -127, 127, 0) + 12 * controls.number('octave_offset', -10, 10, 0);
      defaultPath = controls.text('default_path') ?? '';
    },
    region: (opcodes) => {
      const zone = zoneOf(new Opcodes(opcodes, lose), keyOffset, defaultPath, sampleOf, lose, warn);
      if (!zone) return;
      zones.push(zone);
      rounds.push(zone.turns ?? 1);
    },
  });
  for (const [header, count] of otherHeaders) lost.set(`<${header}>`, count);
  control.forEachUnread(lose);
  if (regions === 0) warn('the file has no <region>');
  return {
    zones: withSilentTurns(zones, rounds),
    notCarried: [...lost]
      .map(([what, count]) => ({ what, count }))
      .sort((a, b) => b.count - a.count || a.what.localeCompare(b.what)),
    warnings: [...warned].map(([line, count]) => (count > 1 ? `${line} (${count} times)` : line)),
  };
}

/**
 * Zones whose round is filled by others in the same place need no number of turns; where some are missing, the round
 * keeps its silent turns.
 */
function withSilentTurns(zones: readonly Zone[], rounds: readonly number[]): Zone[] {
  const turns = new Map<string, Set<number>>();
  const placeOf = ({ key, velocity, trigger }: Zone) =>
    `${key.low} ${key.high} ${velocity.low} ${velocity.high} ${trigger}`;
  for (const zone of zones)
    if (zone.alternate !== null) turns.set(placeOf(zone), (turns.get(placeOf(zone)) ?? new Set()).add(zone.alternate));
  return zones.map((zone, i) =>
    zone.alternate === null || turns.get(placeOf(zone))!.size < rounds[i] ? zone : { ...zone, turns: null },
  );
}
