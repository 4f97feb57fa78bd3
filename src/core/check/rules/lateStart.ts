import { updateSound } from '../../rig/edits/zones';
import { CP, told, type Rule } from '../finding';
import { bySound, heardZones, strikeOf, zonesOf, type HeardZone } from '../recordings';

const MS_BEFORE = 1;
/** Seconds of silence before a zone is heard. */
const lateness = ({ zone, recording }: HeardZone): number =>
  zone.reverse ? 0 : Math.max(0, recording.onset - zone.start) / recording.rate;

/** Silence at the start that delays the strike. */
export const lateStart: Rule = {
  id: 'late-start',
  shelf: 'samples',
  title: 'Silence before the strike',
  why: 'Each thousandth of a second at the start of a recording is added to every strike, and the player drags.',
  help: 'Looks where each recording first rises above 60 dB below its peak, after the start of its zone. A sound that swells in passes that at once; silence does not. Reversed zones are left alone.',
  thresholds: {
    ms: {
      label: 'longest silence',
      unit: 'ms',
      value: 15,
      low: 1,
      high: 500,
      source: `${CP}; 10 ms are felt as delay by players (from memory)`,
    },
  },
  *find(subject) {
    const { patch, threshold } = subject;
    for (const { layer, sound, zones } of bySound(heardZones(subject))) {
      const late = zones.filter(
        (each) =>
          each.recording.peakDb !== null &&
          lateness(each) * 1000 > threshold('ms') &&
          each.recording.onset < each.recording.frames,
      );
      if (late.length === 0) continue;
      const worst = late.reduce((a, b) => (lateness(b) > lateness(a) ? b : a));
      yield {
        grade: 'measured',
        where: { patchId: patch.id, layerIds: [layer.id], soundId: sound.id, zones: late.map(({ place }) => place) },
        hear: { strikes: [strikeOf(patch, worst)], alone: [layer.id] },
        message: `${zonesOf(late.length, sound)} ${late.length === 1 ? 'begins' : 'begin'} with silence, at most ${told(lateness(worst) * 1000)} ms.`,
        fixes: [
          {
            label: `Begin ${MS_BEFORE} ms before the sound`,
            safe: true,
            edit: (old) =>
              updateSound(old, sound.id, (value) => ({
                ...value,
                zones: value.zones.map((zone, place) => {
                  const found = late.find((each) => each.place === place);
                  return found
                    ? {
                        ...zone,
                        start: Math.max(
                          zone.start,
                          Math.round(found.recording.onset - (MS_BEFORE / 1000) * found.recording.rate),
                        ),
                      }
                    : zone;
                }),
              })),
          },
        ],
      };
    }
  },
};
