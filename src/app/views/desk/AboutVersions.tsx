import { useMemo, useState } from 'react';
import { differencesOf } from '../../../core/rig/difference';
import { contentOf, contentOfVersion, deleteVersion, renameVersion } from '../../../core/rig/edits/versions';
import type { Patch } from '../../../core/rig/schema';
import { session } from '../../sound/session';
import { editPatch, useAppDispatch, useAppSelector } from '../../document/store';
import { versionLevels, type Loudness } from '../../jobs/versionLevels';
import { formatValue } from '../../parts/format';
import { TypedField } from '../../parts/TypedField';
import { useRefresh } from '../../parts/useLive';
import { MOST_VERSIONS } from '../../../core/rig/limits';

/** The versions of a patch: their names, how loud each is, and what differs from what plays now. */
export function AboutVersions({ patch, onKeep }: { patch: Patch; onKeep: () => void }) {
  const dispatch = useAppDispatch();
  const rig = useAppSelector((state) => state.rig.rig)!;
  useRefresh(versionLevels);
  useRefresh(session.takes);
  const [other, setOther] = useState<string | null>(null);
  const present = useMemo(() => contentOf(patch), [patch]);
  const contents = patch.versions.map((version) => ({
    version,
    content: version.id === patch.version ? present : contentOfVersion(patch, version.id)!,
  }));
  const levels = contents.map(({ content }) => versionLevels.of(rig, content));
  const mine = levels[contents.findIndex(({ version }) => version.id === patch.version)];
  const compareTo =
    contents.find(({ version }) => version.id === other && version.id !== patch.version) ??
    contents.find(({ version }) => version.id !== patch.version);
  const lines = compareTo ? differencesOf(compareTo.content, present, formatValue) : [];
  return (
    <div className="flex flex-col gap-2">
      <h2 className="text-[14px] font-bold">Versions</h2>
      <table className="w-full text-[12.5px]">
        <tbody>
          {contents.map(({ version }, i) => (
            <tr key={version.id} className="border-t border-line">
              <td className="w-32 py-0.5">
                <TypedField
                  label={`Name of version ${version.name}`}
                  hideLabel
                  text={version.name}
                  commit={(typed) => {
                    if (typed.trim() === '') return 'a name';
                    dispatch(editPatch(patch.id, (old) => renameVersion(old, version.id, typed.trim())));
                    return undefined;
                  }}
                />
              </td>
              <td className="number px-2 text-right whitespace-nowrap">{shownLoudness(levels[i])}</td>
              <td className="px-2 text-faint">
                {version.id === patch.version ? 'plays now' : shownDistance(levels[i], mine)}
              </td>
              <td className="text-right">
                <button
                  className="button-bare"
                  aria-label={`Delete version ${version.name}`}
                  onClick={() => dispatch(editPatch(patch.id, (old) => deleteVersion(old, version.id)))}
                >
                  ×
                </button>
              </td>
            </tr>
          ))}
        </tbody>
      </table>
      <div className="flex gap-1.5">
        <button className="button" disabled={patch.versions.length >= MOST_VERSIONS} onClick={onKeep}>
          one more version
        </button>
        <button
          className="button"
          role="switch"
          aria-checked={!versionLevels.levelled}
          aria-pressed={!versionLevels.levelled}
          title="Plays each as loud as it is; else all are as loud as the softest, so that louder is not taken for better"
          onClick={() => versionLevels.setLevelled(!versionLevels.levelled)}
        >
          unlevelled
        </button>
      </div>
      {!session.takes.take && <p className="text-[12px] text-faint">Without a take nothing can be measured.</p>}
      {compareTo && (
        <section aria-label="What differs" className="flex flex-col gap-1">
          <div className="flex items-center gap-2">
            <h3 className="heading flex-1">From {compareTo.version.name} to what plays now</h3>
            {contents.length > 2 && (
              <select
                className="field"
                aria-label="Compared with"
                value={compareTo.version.id}
                onChange={(event) => setOther(event.target.value)}
              >
                {contents
                  .filter(({ version }) => version.id !== patch.version)
                  .map(({ version }) => (
                    <option key={version.id} value={version.id}>
                      {version.name}
                    </option>
                  ))}
              </select>
            )}
          </div>
          <ul className="max-h-52 overflow-y-auto text-[12px]">
            {lines.length === 0 ? (
              <li className="text-faint">Nothing yet.</li>
            ) : (
              lines.map((text) => <li key={text}>{text}</li>)
            )}
          </ul>
        </section>
      )}
    </div>
  );
}

const shownLoudness = (level: Loudness): string =>
  level === 'measuring'
    ? 'measuring …'
    : level === null
      ? 'not measured'
      : Number.isFinite(level)
        ? `${level.toFixed(1).replace('-', '−')} LUFS`
        : 'silent';
function shownDistance(level: Loudness, from: Loudness): string {
  if (typeof level !== 'number' || typeof from !== 'number' || !Number.isFinite(level - from)) return '';
  const distance = Math.abs(level - from).toFixed(1);
  return distance === '0.0' ? 'as loud' : `${distance} LU ${level > from ? 'louder' : 'softer'}`;
}
