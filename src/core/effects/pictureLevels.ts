/** Mean power of a stretch in dB against full scale. */
export function rmsDb(samples: ArrayLike<number>, from: number, to: number): number {
  let sum = 0;
  for (let i = from; i < to; i++) sum += samples[i] * samples[i];
  return 10 * Math.log10(sum / (to - from) + 1e-12);
}
export const levelFloor = (db: number): number => Math.max(-72, db);
