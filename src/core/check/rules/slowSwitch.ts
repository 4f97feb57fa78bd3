import { CP, told, type Rule } from '../finding';

/** A patch that takes long to switch to. */
export const slowSwitch: Rule = {
  id: 'slow-switch',
  shelf: 'show',
  title: 'A slow change',
  why: 'A change that takes longer than a block of sound is a gap at the worst moment.',
  help: 'Measures on this machine how long the engine needs to take the patch over while another one sounds. A patch with many effects takes longest; the first time on a machine that is busy counts more than others.',
  thresholds: { ms: { label: 'longest change', unit: 'ms', value: 20, low: 1, high: 500, source: CP } },
  *find({ patch, threshold, heard }) {
    const ms = heard?.take?.switchMs ?? 0;
    if (ms <= threshold('ms')) return;
    yield {
      grade: 'taste',
      where: { patchId: patch.id, layerIds: [] },
      hear: null,
      fixes: [],
      message: `The change to “${patch.name}” took ${told(ms)} ms on this machine.`,
    };
  },
};
