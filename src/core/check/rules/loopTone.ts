import { loopName } from '../heard';
import { CP, told, type Rule } from '../finding';
import { bySound, heardZones, strikeOf, zonesOf } from '../recordings';

/** Loops that repeat so fast that they are heard as a tone of their own. */
export const loopTone: Rule = {
  id: 'loop-tone',
  shelf: 'samples',
  title: 'A loop that is heard',
  why: 'Beside the note a second, buzzing one sounds, at the rate of the loop.',
  help: 'A loop repeats at the rate of its recording divided by its length: 1000 frames at 44.1 kHz give 44.1 Hz. Above 20 Hz that is a tone, unless the loop holds whole periods of the note, which is seen by what surrounds its ends being alike. Loops that something moves are meant to be heard.',
  thresholds: {
    hz: {
      label: 'lowest rate that is heard',
      unit: 'Hz',
      value: 20,
      low: 1,
      high: 200,
      source: 'lower limit of hearing, 20 Hz (handbooks of acoustics, from memory)',
    },
    alike: { label: 'likeness of whole periods', unit: '0…1', value: 0.9, low: 0, high: 1, source: CP },
  },
  *find(subject) {
    const { patch, threshold, heard } = subject;
    for (const { layer, sound, zones } of bySound(heardZones(subject))) {
      if (
        patch.routes.some(
          ({ target }) => target === `layer.${layer.id}.loopPosition` || target === `layer.${layer.id}.loopLength`,
        )
      )
        continue;
      const toned = zones.flatMap((each) => {
        const loop = each.zone.loop ? heard?.loops[loopName(each.zone.sampleId, each.zone.loop)] : undefined;
        return loop && loop.hz >= threshold('hz') && loop.correlation < threshold('alike') ? [{ ...each, loop }] : [];
      });
      if (toned.length === 0) continue;
      const first = toned[0];
      yield {
        grade: 'measured',
        where: { patchId: patch.id, layerIds: [layer.id], soundId: sound.id, zones: toned.map(({ place }) => place) },
        hear: { strikes: [strikeOf(patch, first)], alone: [layer.id] },
        fixes: [],
        message: `${zonesOf(toned.length, sound)}: the loop of ${first.zone.loop!.end - first.zone.loop!.start} frames sounds its own tone, ${told(first.loop.hz)} Hz.`,
      };
    }
  },
};
