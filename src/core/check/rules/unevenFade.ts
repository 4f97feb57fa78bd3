import { updatePatch } from '../../rig/edits/layers';
import { updateSound, updateZones } from '../../rig/edits/zones';
import type { LayerWindow, Patch, Rig } from '../../rig/schema';
import { labelOfSource } from '../../space/source';
import { CP, named, told, type Rule } from '../finding';

/** Crossfades that dip or bulge in their middle. */
export const unevenFade: Rule = {
  id: 'uneven-fade',
  shelf: 'show',
  title: 'A crossfade that is uneven',
  why: 'In the middle of the way from one sound to the other the whole gets softer, or swells.',
  help: 'Plays both layers, or both dynamics of a sound, at a quarter, half and three quarters of their crossfade and compares with the loudness that each has unfaded, in proportion. Sounds that have nothing to do with each other add by power and want fades of constant power (sine or root); sounds that are alike add by amplitude and want straight ones. What is right depends on the sounds, so it is measured.',
  thresholds: { db: { label: 'greatest dip or bulge', unit: 'dB', value: 1.5, low: 0.3, high: 12, source: CP } },
  *find({ rig, patch, threshold, heard }) {
    for (const { layerIds, within, source, over, key, velocity, points } of heard?.fades ?? []) {
      const layers = layerIds.flatMap((id) => patch.layers.find((layer) => layer.id === id) ?? []);
      const worst = points.reduce((a, b) => (Math.abs(b.offDb) > Math.abs(a.offDb) ? b : a));
      if (layers.length < layerIds.length || Math.abs(worst.offDb) <= threshold('db')) continue;
      // Shares of a pad, or of a blend, make one whole: their roots are fades of constant power.
      const shape = worst.offDb > 0 ? 'linear' : over ? 'root' : 'sine';
      const sources = over?.sources ?? [source];
      const owners = (of: Patch) => [...of.layers, ...of.groups];
      const sound = within && rig.sounds.find(({ id }) => id === within.soundId);
      if (within && !sound) continue;
      const already = sound
        ? within!.zones.every((place) => sound.zones[place]?.velocity.shape === shape)
        : owners(patch).every(({ windows }) =>
            windows.every((window) => !sources.includes(window.source) || window.shape === shape),
          );
      const turned = <T extends { windows: readonly LayerWindow[] }>(owner: T): T => ({
        ...owner,
        windows: owner.windows.map((window) => (sources.includes(window.source) ? { ...window, shape } : window)),
      });
      const reshaped = (old: Rig): Rig =>
        within
          ? updateSound(old, within.soundId, (value) =>
              updateZones(value, new Set(within.zones), (zone) => ({ ...zone, velocity: { ...zone.velocity, shape } })),
            )
          : updatePatch(old, patch.id, (value) => ({
              ...value,
              layers: value.layers.map((layer) => (over || layerIds.includes(layer.id) ? turned(layer) : layer)),
              groups: over ? value.groups.map(turned) : value.groups,
            }));
      yield {
        grade: 'measured',
        where: {
          patchId: patch.id,
          layerIds,
          ...(within
            ? {
                soundId: within.soundId,
                zones: within.zones,
                velocities: [points[0].at, points[points.length - 1].at] as const,
              }
            : source === 'key'
              ? { keys: [worst.at, worst.at] as const }
              : {}),
        },
        hear: over
          ? over.sources[0].startsWith('xy')
            ? { strikes: [{ key, velocity }], set: over.sets[points.indexOf(worst)], alone: layerIds }
            : null
          : {
              strikes: points.map(({ at }) => ({
                key: source === 'key' ? at : key,
                velocity: source === 'velocity' ? at : velocity,
              })),
              ...(source !== 'key' && source !== 'velocity' ? { set: { [source]: worst.at } } : {}),
              alone: layerIds,
            },
        message: `${sound ? `Between dynamics of “${sound.name}”` : `Between ${named(layers)}`} the crossfade over ${over ? `“${over.name}”` : labelOfSource(source).toLowerCase()} ${worst.offDb > 0 ? 'swells' : 'dips'} by ${told(Math.abs(worst.offDb))} dB.`,
        curve: {
          over: over?.name ?? labelOfSource(source),
          unit: 'dB',
          points: points.map(({ at, offDb }) => [at, offDb] as const),
          mark: worst.at,
        },
        fixes: already
          ? []
          : [
              {
                label: shape === 'linear' ? 'Fade in a straight line' : 'Fade at constant power',
                safe: false,
                edit: reshaped,
              },
            ],
      };
    }
  },
};
