import { useState } from 'react';
import { useNavigate } from 'react-router';
import { reasonOf, ruleOf, thresholdOf } from '../../../core/check';
import { keyOfFinding, type Finding } from '../../../core/check/finding';
import { setAside, setRole, takeBack } from '../../../core/rig/edits/checks';
import { roleOf } from '../../../core/check/roles';
import type { Layer, Patch, Rig, Role } from '../../../core/rig/schema';
import { nameOfKey } from '../../../core/music/noteNames';
import { checkState } from '../../jobs/checkState';
import { showing } from '../../show/showing';
import { Mark } from '../../parts/Mark';
import { useStore } from '../../parts/useLive';
import { soundsSlice } from '../sounds/soundsSlice';
import { choosingSlice } from '../../hands/choosingSlice';
import { edit, told, useAppDispatch, useAppSelector } from '../../document/store';
import { CurvePicture } from './CurvePicture';
import { GRADE_MEANS, GradeSign } from './grades';
import { ROLES } from '../../../core/rig/limits';

const MOST_KEYS_TOLD = 8;

const layersOf = (patch: Patch, { where }: Finding): Layer[] =>
  where.layerIds.flatMap((id) => patch.layers.find((layer) => layer.id === id) ?? []);

/** A range in words: both ends, or the one that they are. */
const rangeOf = ([low, high]: readonly [number, number], say: (value: number) => string): string =>
  low === high ? say(low) : `${say(low)} to ${say(high)}`;

/** What is struck, as its button says it: the keys, or the velocities where the key is always the same. */
function strikeWords(strikes: readonly { key: number; velocity: number }[], say: (key: number) => string): string {
  const told = strikes.slice(0, MOST_KEYS_TOLD);
  const oneKey = told.length > 1 && told.every(({ key }) => key === told[0].key);
  const words = told.map(({ key, velocity }) =>
    oneKey ? String(velocity) : `${say(key)}${told.length === 1 ? ` at ${velocity}` : ''}`,
  );
  return words.join(' ') + (strikes.length > MOST_KEYS_TOLD ? ' …' : '');
}

/** A finding that is meant so is set aside, with the reason why. */
function SettingAside({ rig, patch, finding }: { rig: Rig; patch: Patch; finding: Finding }) {
  const dispatch = useAppDispatch();
  const [reason, setReason] = useState<string | null>(null);
  const key = keyOfFinding(finding);
  const set = reasonOf(rig, finding);
  const layers = layersOf(patch, finding);
  return (
    <div className="flex flex-col gap-1.5 text-[12px]">
      {set !== undefined ? (
        <p>
          Set aside{set ? <>: “{set}”</> : ''}.{' '}
          <button className="underline" onClick={() => dispatch(edit((old) => takeBack(old, key)))}>
            Count it again
          </button>
        </p>
      ) : reason === null ? (
        <button className="self-start underline" onClick={() => setReason('')}>
          Set aside …
        </button>
      ) : (
        <form
          className="flex flex-col gap-1.5"
          onSubmit={(event) => {
            event.preventDefault();
            dispatch(edit((old) => setAside(old, key, reason)));
            setReason(null);
          }}
        >
          <label className="flex flex-col gap-0.5">
            Why it is meant
            <input
              autoFocus
              className="field"
              maxLength={400}
              value={reason}
              onChange={(event) => setReason(event.target.value)}
            />
          </label>
          <span className="flex gap-1.5">
            <button className="button" type="submit">
              Set aside
            </button>
            <button className="button" type="button" onClick={() => setReason(null)}>
              Leave it
            </button>
          </span>
        </form>
      )}
      {layers.length > 0 &&
        layers.map((layer) => (
          <label key={layer.id} className="flex items-center justify-between gap-2">
            <span className="min-w-0 truncate">“{layer.name}” is for</span>
            <select
              className="field"
              value={layer.role}
              onChange={(event) => {
                const role = event.target.value as Role;
                dispatch(edit((old) => setRole(old, patch.id, layer.id, role)));
              }}
            >
              {ROLES.map((role) => (
                <option key={role} value={role}>
                  {role === 'unsaid' ? `guessed: ${roleOf(rig, patch, { ...layer, role: 'unsaid' })}` : role}
                </option>
              ))}
            </select>
          </label>
        ))}
    </div>
  );
}

/** One finding: what was measured, why it matters, how to hear it, and what would mend it. */
export function FindingPanel({
  rig,
  patch,
  finding,
  readOnly,
  isOld,
}: {
  rig: Rig;
  patch: Patch;
  finding: Finding | undefined;
  readOnly: boolean;
  isOld: boolean;
}) {
  const dispatch = useAppDispatch();
  const navigate = useNavigate();
  const middleC = useAppSelector((state) => state.settings.middleC);
  const trial = useStore(checkState, (now) => now.trial);
  const [fixAt, setFixAt] = useState(0);
  if (!finding)
    return (
      <aside aria-label="Finding" className="border-l border-line p-4 text-[12.5px] text-faint">
        What is chosen in the list is explained here.
      </aside>
    );
  const rule = ruleOf(finding.rule);
  const key = keyOfFinding(finding);
  const fix = finding.fixes[Math.min(fixAt, finding.fixes.length - 1)];
  const isTried = trial?.key === key;
  const layers = layersOf(patch, finding);
  const hearMended = () => {
    if (!fix) return;
    if (finding.hear) showing.play(finding.hear, 'changed');
    checkState.set({ trial: { patchId: patch.id, rig: fix.edit(rig), key } });
  };
  const asItIs = () => {
    if (finding.hear) showing.play(finding.hear, isTried ? 'changed' : 'now');
    checkState.set({ trial: null });
  };
  const take = (each: Finding['fixes'][number]) => {
    checkState.set({ trial: null });
    dispatch(edit((old) => each.edit(old)));
    dispatch(told(`${rule.title}: ${each.label}.`));
  };
  const showPlace = ({ where: { soundId, zones, layerIds, keys } }: Finding) => {
    if (soundId !== undefined) {
      dispatch(soundsSlice.actions.zonesChosen(zones ?? []));
      void navigate(`/patch/${patch.id}/sounds/${soundId}`);
      return;
    }
    if (layerIds.length > 0) dispatch(choosingSlice.actions.layerSelected(layerIds[0]));
    const view = layerIds.length > 0 || keys ? 'layers' : rule.shelf === 'hands' ? 'control' : 'mix';
    void navigate(`/patch/${patch.id}/${view}`);
  };
  const strikes = finding.hear?.strikes ?? [];
  // What was measured before the last edit proposes nothing: it would be done twice.
  const waits = isOld && finding.grade === 'measured';
  return (
    <aside
      aria-label="Finding"
      className="flex min-h-0 flex-col gap-2.5 overflow-y-auto border-l border-line p-4 [scrollbar-width:thin]"
    >
      <div>
        <h2 className="text-[15px] font-bold">{rule.title}</h2>
        <p className="flex flex-wrap items-center gap-1 text-[12px] text-faint">
          {layers.map((layer) => (
            <span key={layer.id} className="inline-flex items-center gap-1">
              <Mark mark={layer.mark} size={10} />
              {layer.name}
            </span>
          ))}
          {finding.where.keys && <span>· {rangeOf(finding.where.keys, (key) => nameOfKey(key, middleC))}</span>}
          {finding.where.velocities && <span>· velocity {rangeOf(finding.where.velocities, String)}</span>}
        </p>
      </div>
      <button className="self-start text-[12px] underline" onClick={() => showPlace(finding)}>
        Show it {finding.where.soundId !== undefined ? 'on the map' : 'where it is'}
      </button>
      {finding.curve && <CurvePicture curve={finding.curve} />}
      <p className="text-[12.5px]">{rule.why}</p>
      <p className="flex items-start gap-2 text-[12px] text-faint">
        <span className="mt-0.5">
          <GradeSign grade={finding.grade} />
        </span>
        {GRADE_MEANS[finding.grade]}
      </p>
      {finding.hear && (
        <div>
          <h3 className="heading mb-1">Hear it</h3>
          <div className="flex flex-wrap gap-1.5">
            <button className="button" onClick={asItIs}>
              ▶ {strikeWords(strikes, (key) => nameOfKey(key, middleC))}
            </button>
            {fix && (
              <button className="button" aria-pressed={isTried} onClick={hearMended}>
                as mended
              </button>
            )}
          </div>
        </div>
      )}
      {!readOnly && finding.fixes.length > 0 && (
        <div>
          <h3 className="heading mb-1">Mend it</h3>
          {waits && (
            <p className="mb-1 text-[12px] text-faint" role="status">
              The patch has changed and is being listened to again.
            </p>
          )}
          <div className="flex flex-col items-start gap-1.5">
            {finding.fixes.map((each, n) => (
              <button
                key={each.label}
                className="button text-left whitespace-normal!"
                title="Does what it says, as an edit that can be undone"
                onPointerEnter={() => setFixAt(n)}
                onFocus={() => setFixAt(n)}
                disabled={waits}
                onClick={() => take(each)}
              >
                {each.label}
              </button>
            ))}
            {!finding.hear && fix && (
              <button
                className="button-bare px-1! text-[12px] text-faint underline"
                aria-pressed={isTried}
                onClick={() =>
                  checkState.set({ trial: isTried ? null : { patchId: patch.id, rig: fix.edit(rig), key } })
                }
              >
                {isTried ? 'Play it as it is' : 'Play it as mended, before it is taken'}
              </button>
            )}
          </div>
        </div>
      )}
      {!readOnly && finding.fixes.length === 0 && (
        <p className="text-[12px] text-faint">
          No edit of the rig can mend this; the recordings would have to be others.
        </p>
      )}
      {!readOnly && <SettingAside rig={rig} patch={patch} finding={finding} />}
      <details className="text-[12px] text-faint">
        <summary className="cursor-pointer">About this rule</summary>
        <p className="mt-1">{rule.help}</p>
        {Object.entries(rule.thresholds ?? {}).map(([id, threshold]) => (
          <p key={id} className="mt-1">
            {threshold.label}:{' '}
            <span className="number">
              {thresholdOf(rig, rule, id)} {threshold.unit}
            </span>{' '}
            ({threshold.source})
          </p>
        ))}
      </details>
    </aside>
  );
}
