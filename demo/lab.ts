/**
 * npm run lab NAME …: a page for each instrument, as PNG and JSON in build/lab: what it is when it is played, beside what
 * is published of its kind. NAME is an id (tide-tines) or "all".
 *
 * The picture: above, three strikes at the hardest (low, middle, high) as spectrograms; below left, level by time of the
 * same three, 10 dB a line; below right, level (light) and brightness (warm) by velocity, low to high.
 */
import { mkdirSync, writeFileSync } from 'node:fs';
import { readWav } from '../src/core/formats/wav';
import { frequencyOfKey } from '../src/core/music/pitch';
import { INSTRUMENTS, type Instrument } from './instruments';
import { Sheet } from './lab/draw';
import { brightness, levels, loudness, partialFalls, secondsToFall, seamOf, specimenOf, strike } from './lab/measure';
import { PUBLISHED } from './lab/published';

const VELOCITIES = [1, 16, 32, 48, 64, 80, 96, 112, 127];
const COLOURS = [
  [240, 190, 120],
  [120, 220, 200],
  [190, 160, 250],
];
const round = (x: number, digits = 1) => (Number.isFinite(x) ? Number(x.toFixed(digits)) : null);

function pageOf(instrument: Instrument): void {
  const specimen = specimenOf(instrument);
  const { zones } = specimen.sound;
  const roots = [...new Set(zones.map(({ root }) => root))].sort((a, b) => a - b);
  const three = [roots[1], roots[roots.length >> 1], roots[roots.length - 2]];
  const sheet = new Sheet();
  sheet.fill(0, 0, 1200, 800, [16, 20, 28]);
  const box = [0, 420, 780, 380] as const;
  for (let db = 0; db < 8; db++) sheet.fill(0, 420 + Math.round((db * 380) / 8), 780, 1, [40, 48, 62]);
  const keys = three.map((key, n) => {
    const held = 16;
    const sides = strike(specimen, key, 127, held, 1);
    const [left] = sides;
    sheet.spectrogram(left.subarray(0, Math.round(4 * 48000)), n * 400, 0, 396, 410);
    const row = levels(sides);
    const highest = Math.max(...row);
    sheet.line(
      row.map((db) => db - highest),
      -80,
      0,
      box,
      COLOURS[n],
    );
    const partials = [1, 2, 3, 4, 5, 6].map((p) => p * frequencyOfKey(key));
    return {
      key,
      loudness: round(loudness(sides)),
      secondsTo60: round(secondsToFall(sides, 60), 2),
      secondsTo20: round(secondsToFall(sides, 20), 2),
      damped: round(
        secondsToFall(
          strike(specimen, key, 127, 0.5, 3).map((side) => side.subarray(24000)),
          60,
        ),
        2,
      ),
      dbASecondOfPartials: partialFalls(left, partials, 0.3, 1.5).map((x) => round(x)),
    };
  });
  const middle = three[1];
  const byVelocity = VELOCITIES.map((velocity) => {
    const sides = strike(specimen, middle, velocity, 1);
    return { velocity, loudness: round(loudness(sides)), brightness: round(brightness(sides[0]), 0) };
  });
  const right = [800, 420, 400, 380];
  sheet.line(
    byVelocity.map((each) => each.loudness ?? -70),
    -60,
    0,
    right,
    [230, 230, 240],
  );
  sheet.line(
    byVelocity.map((each) => Math.log2((each.brightness ?? 100) / 100)),
    0,
    7,
    right,
    COLOURS[0],
  );
  const seams = zones.map((zone) => {
    const { audio } = readWav(specimen.kept.wavs.get(zone.sampleId)!);
    return seamOf(zone, audio.data, audio.channels);
  });
  const bytes = [...specimen.kept.wavs.values()].reduce((sum, wav) => sum + wav.length, 0);
  const page = {
    name: instrument.name,
    roots,
    samples: zones.length,
    megabytes: round(bytes / 1e6),
    keys,
    byVelocity,
    worstSeam: round(Math.max(...seams), 3),
    published: PUBLISHED[instrument.id] ?? [],
  };
  writeFileSync(`build/lab/${instrument.id}.json`, `${JSON.stringify(page, null, 2)}\n`);
  writeFileSync(`build/lab/${instrument.id}.png`, sheet.bytes());
  process.stdout.write(`${JSON.stringify({ ...page, published: undefined, roots: undefined })}\n`);
}

const wanted = process.argv.slice(2);
const all: Instrument[] = Object.values(INSTRUMENTS);
const unknown = wanted.filter((name) => name !== 'all' && !all.some(({ id }) => id === name));
if (wanted.length === 0 || unknown.length > 0) {
  process.stderr.write(
    `${unknown.length > 0 ? `No instrument is called ${unknown[0]}. ` : ''}There are: all, ${all.map(({ id }) => id).join(', ')}\n`,
  );
  process.exit(2);
}
mkdirSync('build/lab', { recursive: true });
for (const instrument of all) if (wanted.includes('all') || wanted.includes(instrument.id)) pageOf(instrument);
