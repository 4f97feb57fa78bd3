import { SYNTH_PAGES, WAVES } from '../../dsp/kernel/synthLayout';
import { levelsOf } from '../../dsp/waves';
import { lengthOfWaves, MOST_WAVES, SHAPE_HARMONICS, TABLE_HARMONICS, WAVES_IN_TABLE } from './tables';
import { SHAPES, TABLE_IDS, type WaveRequest } from './tableIds';

/** Bytes that oscillators have for all rows of waves of a patch together. */
export const WAVE_ROOM = SYNTH_PAGES * 65536 - WAVES;

/** Bytes of a row of waves as oscillators read it; `frames` of the recording where it is one that was brought in. */
export function bytesOfRow({ table, length }: WaveRequest, frames: number): number {
  if (table === SHAPES) return 4 * levelsOf(SHAPE_HARMONICS, 3).length;
  const size = Math.max(2, length > 0 ? Math.min(length, frames) : lengthOfWaves(frames));
  const waves = TABLE_IDS.includes(table)
    ? WAVES_IN_TABLE
    : Math.min(MOST_WAVES, Math.max(1, Math.floor(frames / size)));
  return 4 * levelsOf(TABLE_HARMONICS, waves).length;
}

/**
 * Which of some rows have no room beside those before them: they play as a plain saw. The plain shapes come first, as a
 * patch asks for them.
 */
export function rowsWithoutRoom(rows: readonly WaveRequest[], framesOf: (table: string) => number): WaveRequest[] {
  let left = WAVE_ROOM - bytesOfRow({ table: SHAPES, length: 0 }, 0);
  const seen = new Set<string>();
  return rows.filter((row) => {
    const key = `${row.table} ${row.length}`;
    if (seen.has(key)) return false;
    seen.add(key);
    const bytes = bytesOfRow(row, framesOf(row.table));
    if (bytes > left) return true;
    left -= bytes;
    return false;
  });
}
