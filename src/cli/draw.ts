import { combinationsOf, draw as drawAnew, drawablesIn } from '../core/draws/draw';
import { keepDraw } from '../core/draws/history';
import { writeArchive } from '../core/formats/rigArchive';
import { updatePatch } from '../core/rig/edits/layers';
import { numberOption, readArguments, required } from './arguments';
import { Failure } from './failure';
import { findPatch, readArchiveFile, writeFile } from './files';

/**
 * `draw RIG --patch NAME [--only ID…] [--amount A] --seed N --out RIG`: one draw of chance, kept in the history of the
 * patch.
 */
export function draw(args: string[]): unknown {
  const { values, file } = readArguments(
    args,
    {
      patch: { type: 'string' },
      only: { type: 'string', multiple: true },
      amount: { type: 'string' },
      sounds: { type: 'string' },
      seed: { type: 'string' },
      out: { type: 'string' },
    },
    'RIG',
  );
  const name = required(values, 'patch');
  const out = required(values, 'out');
  required(values, 'seed');
  const seed = numberOption(values, 'seed', 0, 2 ** 31 - 1, undefined);
  const amount = numberOption(values, 'amount', 0, 1, 1, false);
  const { rig, wavs } = readArchiveFile(file);
  const patch = findPatch(rig, name);
  const only = (values.only as string[] | undefined) ?? [];
  // Layers and groups may be named as people call them.
  const scope = only.map((each) => {
    const layer = patch.layers.find((candidate) => candidate.name === each || candidate.id === each);
    const group = patch.groups.find((candidate) => candidate.name === each || candidate.id === each);
    return layer ? `layer.${layer.id}` : group ? `group.${group.id}` : each;
  });
  for (const [i, each] of scope.entries())
    if (drawablesIn(patch, [each], rig.sounds).length === 0)
      throw new Failure(
        `--only ${only[i]}: nothing that can be drawn is called so; targets such as layer.ID.cutoff, layers and groups are`,
        2,
      );
  const among = values.sounds as string | undefined;
  const sounds =
    among === undefined
      ? []
      : among === 'list'
        ? undefined
        : among === 'all'
          ? rig.sounds.map(({ id }) => id)
          : rig.sounds.filter(({ tags }) => tags.includes(among)).map(({ id }) => id);
  if (sounds && among !== undefined && sounds.length === 0)
    throw new Failure(`--sounds ${among}: no sound has this tag; or "list", or "all"`, 2);
  const open = drawablesIn(patch, scope, rig.sounds);
  const { patch: drawn, changes } = drawAnew(patch, open, { amount, seed, sounds });
  const id = freshId(patch.draws.map((each) => each.id));
  const next = updatePatch(rig, patch.id, () =>
    keepDraw(drawn, changes, { id, seed, amount, scope: only.join(', ') || 'the whole patch' }),
  );
  writeFile(
    out,
    writeArchive(next, (sampleId) => wavs.get(sampleId)!),
  );
  return {
    changed: changes.map(([target, before, after]) => ({ target, before, after })),
    ...combinationsOf(patch, open, { amount, sounds }),
  };
}

const freshId = (used: readonly string[]): string => {
  let n = used.length + 1;
  while (used.includes(`draw-${n}`)) n++;
  return `draw-${n}`;
};
