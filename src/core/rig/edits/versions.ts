import type { Patch, PatchContent, Rig } from '../schema';
import { heldName } from '../names';
import { MOST_VERSIONS } from '../limits';

/**
 * Versions of a patch kept side by side. The one that plays is the patch itself: what is kept of it is renewed when
 * another takes its place. Pure functions; the same notes go on through all of them.
 */

const LETTERS = ['A', 'B', 'C', 'D'];

export const contentOf = ({ versions: _, version: __, ...content }: Patch): PatchContent => content;

/** Everything of a version as it is now. */
export const contentOfVersion = (patch: Patch, id: string): PatchContent | undefined =>
  id === patch.version ? contentOf(patch) : patch.versions.find((version) => version.id === id)?.patch;

const withPresentKept = (patch: Patch): Patch['versions'] =>
  patch.versions.map((version) => (version.id === patch.version ? { ...version, patch: contentOf(patch) } : version));

/**
 * Keeps the patch as it is as one version, and goes on with a copy as the next. `ids`: two new ones. Unchanged where
 * there are four.
 */
export function keepVersion(patch: Patch, ids: readonly [string, string]): Patch {
  if (patch.versions.length >= MOST_VERSIONS) return patch;
  const content = contentOf(patch);
  const before = patch.versions.length === 0 ? [{ id: ids[0], name: 'A', patch: content }] : withPresentKept(patch);
  const name = LETTERS.find((letter) => !before.some((version) => version.name === letter)) ?? `${before.length + 1}`;
  return { ...patch, versions: [...before, { id: ids[1], name, patch: content }], version: ids[1] };
}

/** Another version takes the place; name and id of the patch stay. */
export function switchVersion(patch: Patch, id: string): Patch {
  const next = patch.versions.find((version) => version.id === id);
  if (!next || id === patch.version) return patch;
  return { ...patch, ...next.patch, id: patch.id, name: patch.name, versions: withPresentKept(patch), version: id };
}

/** Without a version; of the one that plays, another takes the place. The last one left is the patch alone. */
export function deleteVersion(patch: Patch, id: string): Patch {
  const other = patch.versions.find((version) => version.id !== id);
  const left = id === patch.version && other ? switchVersion(patch, other.id) : patch;
  const versions = left.versions.filter((version) => version.id !== id);
  return versions.length < 2 ? { ...left, versions: [], version: null } : { ...left, versions };
}

export const renameVersion = (patch: Patch, id: string, name: string): Patch =>
  heldName(name) === ''
    ? patch
    : {
        ...patch,
        versions: patch.versions.map((version) => (version.id === id ? { ...version, name: heldName(name) } : version)),
      };

/**
 * An edit of every patch and of every version of it: for what leaves the rig. What it leaves as it is stays the same
 * object.
 */
export function everywhere(rig: Rig, change: (patch: Patch) => Patch): Rig {
  const changed = (content: PatchContent): PatchContent => {
    const alone: Patch = { ...content, versions: [], version: null };
    const next = change(alone);
    return next === alone ? content : contentOf(next);
  };
  const patches = rig.patches.map((patch) => {
    const content = contentOf(patch);
    const next = changed(content);
    const versions = patch.versions.map((version) => {
      const made = changed(version.patch);
      return made === version.patch ? version : { ...version, patch: made };
    });
    return next === content && versions.every((version, v) => version === patch.versions[v])
      ? patch
      : { ...patch, ...next, versions };
  });
  return { ...rig, patches };
}
