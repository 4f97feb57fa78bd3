import { nameOfKey } from '../../music/noteNames';
import { gainOfVelocity } from '../../engine/program/touch';
import { paramOf } from '../../rig/defaults';
import { updateLayer, updatePatch } from '../../rig/edits/layers';
import { CP, quoted, told, type Rule } from '../finding';
import { bySound, heardZones, strikeOf } from '../recordings';

/** Recorded dynamics that velocity makes softer once more. */
export const dynamicsTwice: Rule = {
  id: 'dynamics-twice',
  shelf: 'strikes',
  title: 'Dynamics counted twice',
  why: 'Soft strikes were recorded soft; made softer by velocity as well, they are hardly heard.',
  help: 'Where zones on one key were recorded at several dynamics, compares what the softest of them comes out at with its recording: what *level follows velocity* takes away on top. Judged only where the recordings themselves differ in loudness.',
  thresholds: {
    apart: { label: 'recordings that differ by', unit: 'LU', value: 6, low: 1, high: 40, source: CP },
    lost: { label: 'and lose', unit: 'dB', value: 6, low: 1, high: 40, source: CP },
  },
  *find(subject) {
    const { patch, threshold } = subject;
    for (const { layer, sound, zones } of bySound(heardZones(subject))) {
      const attacks = zones.filter(({ zone, recording }) => zone.trigger === 'attack' && recording.lufs !== null);
      const softest = attacks.reduce<(typeof attacks)[number] | undefined>(
        (best, each) => (!best || each.zone.velocity.high < best.zone.velocity.high ? each : best),
        undefined,
      );
      const harder =
        softest &&
        attacks.filter(
          ({ zone }) =>
            zone.velocity.low > softest.zone.velocity.high - 1 &&
            zone.key.low <= softest.zone.key.high &&
            zone.key.high >= softest.zone.key.low,
        );
      if (!softest || !harder || harder.length === 0) continue;
      const loudness = (each: (typeof attacks)[number]) => each.recording.lufs! + each.zone.gain;
      const apart = Math.max(...harder.map(loudness)) - loudness(softest);
      const share = paramOf(layer, 'velocityToLevel', softest.zone.params) / 100;
      const velocity = Math.max(1, Math.round((softest.zone.velocity.low + softest.zone.velocity.high) / 2));
      const lost = -20 * Math.log10(gainOfVelocity(velocity, share));
      if (apart < threshold('apart') || lost < threshold('lost')) continue;
      const { key } = strikeOf(patch, softest);
      yield {
        grade: 'measured',
        where: {
          patchId: patch.id,
          layerIds: [layer.id],
          soundId: sound.id,
          keys: [key, key],
          velocities: [1, softest.zone.velocity.high],
        },
        hear: {
          strikes: [
            { key, velocity },
            { key, velocity: 127 },
          ],
          alone: [layer.id],
        },
        message: `The dynamics of ${quoted(sound)} were recorded ${told(apart)} LU apart, and velocity takes another ${told(lost)} dB off the softest on ${nameOfKey(key, 4)}: level follows velocity by ${told(100 * share)} %.`,
        fixes: [
          {
            label: 'Leave the level as it was recorded',
            safe: true,
            edit: (old) =>
              updatePatch(old, patch.id, (now) =>
                updateLayer(now, layer.id, (each) => ({ ...each, params: { ...each.params, velocityToLevel: 0 } })),
              ),
          },
        ],
      };
    }
  },
};
