import { CP, type Rule } from '../finding';
import { bySound, heardZones, strikeOf, zonesOf } from '../recordings';

/** Recordings that hit their limit. */
export const clipped: Rule = {
  id: 'clipped',
  shelf: 'samples',
  title: 'A clipped recording',
  why: 'Cut tops are heard as harshness, and no level afterwards takes it away.',
  help: 'Counts the places where three frames or more in a row stand at a recording’s greatest value, close to full scale. The only cure is to record again; a softer recording of the same key can take its place.',
  thresholds: {
    places: { label: 'places that are let pass', unit: 'places', value: 2, low: 0, high: 1000, source: CP },
  },
  *find(subject) {
    const { patch, threshold } = subject;
    for (const { layer, sound, zones } of bySound(heardZones(subject))) {
      const cut = zones.filter(({ recording }) => recording.clipped > threshold('places'));
      if (cut.length === 0) continue;
      const worst = cut.reduce((a, b) => (b.recording.clipped > a.recording.clipped ? b : a));
      yield {
        grade: 'measured',
        where: { patchId: patch.id, layerIds: [layer.id], soundId: sound.id, zones: cut.map(({ place }) => place) },
        hear: { strikes: [strikeOf(patch, worst)], alone: [layer.id] },
        fixes: [],
        message: `${zonesOf(cut.length, sound)} ${cut.length === 1 ? 'is' : 'are'} clipped, at most in ${worst.recording.clipped} places.`,
      };
    }
  },
};
