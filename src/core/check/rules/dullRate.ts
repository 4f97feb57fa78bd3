import { samplesIn } from '../../rig/defaults';
import { CP, quoted, type Rule } from '../finding';
import { soundsPlayed } from '../recordings';

/** Recordings at a rate that leaves no treble. */
export const dullRate: Rule = {
  id: 'dull-rate',
  shelf: 'samples',
  title: 'A rate that shortens the treble',
  why: 'Nothing above half its rate is in a recording: beside full ones it sounds like a telephone.',
  help: 'A recording holds frequencies up to half its rate (the sampling theorem). At 22 050 Hz the treble ends at 11 kHz. It may be meant; nothing but a recording at a higher rate brings it back.',
  thresholds: {
    hz: {
      label: 'lowest rate',
      unit: 'Hz',
      value: 32000,
      low: 8000,
      high: 96000,
      source: `${CP}: broadcast’s lowest rate for music`,
    },
  },
  *find({ rig, patch, threshold }) {
    const rateOf = new Map(rig.samples.map(({ id, rate }) => [id, rate]));
    for (const { layer, sound, struck } of soundsPlayed(rig, patch)) {
      const soundId = sound.id;
      const dull = sound.zones.flatMap(({ sampleId }, place) =>
        (rateOf.get(sampleId) ?? Infinity) < threshold('hz') ? [place] : [],
      );
      if (dull.length === 0) continue;
      const rate = Math.min(...dull.map((place) => rateOf.get(sound.zones[place].sampleId)!));
      yield {
        grade: 'taste',
        where: { patchId: patch.id, layerIds: [layer.id], soundId, zones: dull },
        hear: { strikes: [{ key: struck(sound.zones[dull[0]].key.low), velocity: 100 }], alone: [layer.id] },
        fixes: [],
        message: `${dull.length} of ${samplesIn(sound).length === 1 ? 'one zone' : `${sound.zones.length} zones`} of ${quoted(sound)} ${dull.length === 1 ? 'is' : 'are'} recorded at ${rate} Hz: nothing above ${Math.round(rate / 200) / 10} kHz is in ${dull.length === 1 ? 'it' : 'them'}.`,
      };
    }
  },
};
