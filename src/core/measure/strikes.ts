import type { Audio } from '../dsp/sample';

/** Where a long recording is cut: frames at which pieces begin and end. */
export interface Piece {
  start: number;
  end: number;
}

const HOP_SECONDS = 0.003;
/** A piece shorter than this is not one. */
const SHORTEST_SECONDS = 0.03;
/** A cut lies so long before the strike that was found, so that nothing of it is lost. */
const BEFORE_SECONDS = 0.004;

/** Energy of both sides in each hop, in dB. */
function energies({ data, channels, rate }: Audio): { levels: Float64Array; hop: number } {
  const hop = Math.max(8, Math.round(rate * HOP_SECONDS));
  const frames = Math.floor(data.length / channels);
  const levels = new Float64Array(Math.max(1, Math.floor(frames / hop)));
  for (let h = 0; h < levels.length; h++) {
    let sum = 0;
    for (let i = h * hop * channels; i < (h + 1) * hop * channels; i++) sum += data[i] * data[i];
    levels[h] = 10 * Math.log10(sum / (hop * channels) + 1e-12);
  }
  return { levels, hop };
}

/**
 * Frames at which something is struck: where the energy rises by at least `riseDb` within some hundredths of a second,
 * above a floor, and at least `apart` seconds after the last. By the energy of short hops, as
 * onsets are commonly found (common practice, no source).
 */
export function strikesIn(audio: Audio, riseDb = 9, apart = 0.08): number[] {
  const { levels, hop } = energies(audio);
  const loudest = levels.reduce((most, level) => Math.max(most, level), -120);
  const floor = Math.max(-72, loudest - 54);
  const back = Math.max(2, Math.round(0.02 / HOP_SECONDS));
  const found: number[] = [];
  let last = -Infinity;
  for (let h = 0; h < levels.length; h++) {
    let before = Infinity;
    for (let i = Math.max(0, h - back); i < h; i++) before = Math.min(before, levels[i]);
    if (h === 0) before = -120;
    const at = h * hop;
    if (levels[h] < floor || levels[h] - before < riseDb || at - last < apart * audio.rate) continue;
    // The cut lies where the rise begins.
    let begins = h;
    while (begins > 0 && begins > h - back && levels[begins - 1] < levels[begins] - 0.5) begins--;
    const frame = Math.max(0, Math.round(begins * hop - BEFORE_SECONDS * audio.rate));
    if (found.length > 0 && frame - found[found.length - 1] < apart * audio.rate * 0.5) continue;
    found.push(frame);
    last = at;
  }
  return found;
}

/** Pieces from one strike to the next, the last to the end. */
export function piecesAtStrikes(audio: Audio, riseDb = 9, apart = 0.08): Piece[] {
  const frames = Math.floor(audio.data.length / audio.channels);
  return piecesAt(strikesIn(audio, riseDb, apart), frames, audio.rate);
}

/** Pieces between silences: where the energy stays under `floorDb` for at least `seconds`. */
export function piecesBetweenSilences(audio: Audio, floorDb = -48, seconds = 0.12): Piece[] {
  const { levels, hop } = energies(audio);
  const frames = Math.floor(audio.data.length / audio.channels);
  const loudest = levels.reduce((most, level) => Math.max(most, level), -120);
  const floor = loudest + floorDb;
  const need = Math.max(1, Math.round(seconds / HOP_SECONDS));
  const pieces: Piece[] = [];
  let start = -1;
  let quiet = 0;
  for (let h = 0; h < levels.length; h++) {
    if (levels[h] >= floor) {
      if (start < 0) start = Math.max(0, h * hop - Math.round(BEFORE_SECONDS * audio.rate));
      quiet = 0;
    } else if (start >= 0 && ++quiet >= need) {
      pieces.push({ start, end: (h - quiet + 2) * hop });
      start = -1;
      quiet = 0;
    }
  }
  if (start >= 0) pieces.push({ start, end: frames });
  return pieces.filter(({ start: from, end }) => end - from >= SHORTEST_SECONDS * audio.rate);
}

/** So many equal pieces. */
export const equalPieces = (frames: number, count: number): Piece[] =>
  Array.from(
    { length: Math.max(1, Math.min(128, Math.round(count))) },
    (_, i, all = Math.max(1, Math.min(128, Math.round(count)))) => ({
      start: Math.round((i * frames) / all),
      end: Math.round(((i + 1) * frames) / all),
    }),
  );

/** Pieces from each of some frames to the next; those that are too short join the one before. */
export function piecesAt(starts: readonly number[], frames: number, rate: number): Piece[] {
  const sorted = [...new Set(starts.map((frame) => Math.min(frames, Math.max(0, Math.round(frame)))))]
    .sort((a, b) => a - b)
    .filter((frame, i, all) => i === 0 || frame - all[i - 1] >= SHORTEST_SECONDS * rate);
  return sorted
    .map((start, i) => ({ start, end: sorted[i + 1] ?? frames }))
    .filter(({ start, end }) => end - start >= 1);
}
