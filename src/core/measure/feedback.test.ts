import { FeedbackWatch } from './feedback';

/** Spectra of 256 bins: a floor, and what stands above it. */
const spectrum = (...peaks: [bin: number, db: number][]): number[] => {
  const bins = new Array<number>(256).fill(-100);
  for (const [bin, db] of peaks) {
    bins[bin] = db;
    bins[bin - 1] = Math.max(bins[bin - 1], db - 6);
    bins[bin + 1] = Math.max(bins[bin + 1], db - 6);
  }
  return bins;
};
/** When it is noticed in ms, looked at every 20 ms for a second and a half. */
function noticed(at: (ms: number) => number[]): number | undefined {
  const watch = new FeedbackWatch();
  for (let ms = 0; ms < 1500; ms += 20) if (watch.look(at(ms), ms) !== undefined) return ms;
  return undefined;
}

test('a tone that grows at one frequency is noticed after three tenths of a second, however fast it grows', () => {
  for (const dbInSecond of [12, 25, 60, 200]) {
    const at = noticed((ms) => spectrum([40, Math.min(0, -38 + (dbInSecond * ms) / 1000)]));
    expect(at).toBeGreaterThanOrEqual(300);
    expect(at).toBeLessThanOrEqual(320);
  }
});
test('it may wander to the neighbour, and tells where it is', () => {
  const watch = new FeedbackWatch();
  let found: number | undefined;
  for (let ms = 0; ms < 500 && found === undefined; ms += 20)
    found = watch.look(spectrum([40 + (ms % 40 === 0 ? 0 : 1), -30 + ms / 20]), ms);
  expect([40, 41]).toContain(found);
});
test('a voice that swells has harmonics; a whistle that stands does not grow; a melody does not stay', () => {
  expect(noticed((ms) => spectrum([20, -35 + ms / 40], [40, -40 + ms / 40], [60, -48 + ms / 40]))).toBeUndefined();
  expect(noticed(() => spectrum([50, -12]))).toBeUndefined();
  expect(noticed((ms) => spectrum([30 + 5 * Math.floor(ms / 200), -30 + (ms % 200) / 20]))).toBeUndefined();
  expect(noticed((ms) => spectrum([50, -10 - ms / 50]))).toBeUndefined();
  expect(noticed((ms) => spectrum([50, -90 + ms / 50]))).toBeUndefined();
});
test('what was looked at long ago is no beginning', () => {
  const watch = new FeedbackWatch();
  expect(watch.look(spectrum([40, -30]), 0)).toBeUndefined();
  expect(watch.look(spectrum([40, -10]), 5000)).toBeUndefined();
  watch.forget();
  expect(watch.look(spectrum([40, -5]), 5010)).toBeUndefined();
});
