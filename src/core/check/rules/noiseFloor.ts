import { CP, told, type Rule } from '../finding';
import { bySound, heardZones, strikeOf, zonesOf } from '../recordings';
import { isRow } from '../roles';

/** Recordings with audible noise under them. */
export const noiseFloor: Rule = {
  id: 'noise',
  shelf: 'samples',
  title: 'Noise under a recording',
  why: 'The noise of one recording is small; that of ten held notes is ten times it.',
  help: 'Looks at the softest tenth of a second of each recording: where that is noise and no tone, its level is told against the loudest one. Looped recordings are judged as well. Drums and effects, which often are noise, are left alone.',
  thresholds: { db: { label: 'highest level of the noise', unit: 'dB', value: -45, low: -96, high: -10, source: CP } },
  *find(subject) {
    const { rig, patch, threshold } = subject;
    for (const { layer, sound, zones } of bySound(heardZones(subject))) {
      if (isRow(rig, patch, layer)) continue;
      const noisy = zones.filter(
        ({ recording }) => recording.noiseDb !== null && recording.noiseDb > threshold('db') && recording.clarity > 0.5,
      );
      if (noisy.length === 0) continue;
      const worst = noisy.reduce((a, b) => (b.recording.noiseDb! > a.recording.noiseDb! ? b : a));
      yield {
        grade: 'measured',
        where: { patchId: patch.id, layerIds: [layer.id], soundId: sound.id, zones: noisy.map(({ place }) => place) },
        hear: { strikes: [strikeOf(patch, worst)], alone: [layer.id] },
        fixes: [],
        message: `${zonesOf(noisy.length, sound)} ${noisy.length === 1 ? 'has' : 'have'} noise under ${noisy.length === 1 ? 'it' : 'them'}, at most ${told(worst.recording.noiseDb!)} dB against the note.`,
      };
    }
  },
};
