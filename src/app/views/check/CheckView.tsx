import { useEffect, useMemo, useState } from 'react';
import { createPortal } from 'react-dom';
import { useNavigate, useOutletContext, useParams } from 'react-router';
import { mendAll, reasonOf, ruleOf } from '../../../core/check';
import type { Patch } from '../../../core/rig/schema';
import { keyOfFinding, type Finding, type Grade, type Shelf } from '../../../core/check/finding';
import { checking } from '../../jobs/checking';
import { checkState } from '../../jobs/checkState';
import { showing } from '../../show/showing';
import { Mark } from '../../parts/Mark';
import { useRefresh } from '../../parts/useLive';
import { edit, notice, selectPatch, useAppDispatch, useAppSelector } from '../../document/store';
import { FindingPanel } from './FindingPanel';
import { byRule } from './byRule';
import { GRADE_NAMES, GradeSign } from './grades';
import { Thresholds } from './Thresholds';

type Shown = 'all' | Shelf | 'aside';
const SHELVES: readonly (readonly [Shelf, string])[] = [
  ['keys', 'keys'],
  ['strikes', 'strikes'],
  ['samples', 'samples'],
  ['hands', 'hands'],
  ['show', 'the show'],
];

/** What the rig has to say of itself: what was found in the patch, why it matters, and what would mend it. */
export function CheckView() {
  const { patchId } = useParams();
  const patch = useAppSelector((state) => selectPatch(state, patchId))!;
  const rig = useAppSelector((state) => state.rig.rig)!;
  const readOnly = useAppSelector((state) => state.rig.readOnly);
  const foot = useOutletContext<HTMLDivElement | null>();
  const dispatch = useAppDispatch();
  const navigate = useNavigate();
  useRefresh(checking);
  const [shown, setShown] = useState<Shown>('all');
  const [chosenKey, setChosenKey] = useState<string | null>(null);
  const [thresholds, setThresholds] = useState(false);
  const mine = checking.patchId === patch.id ? checking.findings : [];
  const open = mine.filter((finding) => reasonOf(rig, finding) === undefined);
  const aside = mine.filter((finding) => reasonOf(rig, finding) !== undefined);
  const list =
    shown === 'aside' ? aside : shown === 'all' ? open : open.filter(({ rule }) => ruleOf(rule).shelf === shown);
  const chosen = list.find((finding) => keyOfFinding(finding) === chosenKey) ?? list[0];
  const keys = chosen?.where.keys;
  const [low, high] = keys ?? [];
  const lit = useMemo(() => (low === undefined || high === undefined ? null : ([low, high] as const)), [low, high]);
  useEffect(() => {
    checkState.set({ keys: lit });
  }, [lit]);
  useEffect(
    () => () => {
      checkState.set({ keys: null, trial: null });
      showing.stop();
    },
    [patchId],
  );
  const grades: readonly Grade[] = checking.isOld ? ['sure'] : ['sure', 'measured'];
  const safe = open.filter(({ grade, fixes }) => grades.includes(grade) && fixes[0]?.safe).length;
  const mendSafe = () => {
    let mended = 0;
    dispatch(
      edit((old) => {
        const result = mendAll(old, patch.id, checking.evidence, grades);
        mended = result.mended;
        return result.rig;
      }),
    );
    dispatch(
      notice(
        'info',
        mended === 0
          ? 'Nothing could be mended by itself.'
          : `${mended === 1 ? 'One thing was' : `${mended} things were`} mended; undo takes it back.`,
        'mended',
      ),
    );
  };
  const count = (shelf: Shelf) => open.filter(({ rule }) => ruleOf(rule).shelf === shelf).length;
  return (
    <div className="grid h-full min-w-0 grid-cols-[var(--left)_minmax(0,1fr)_var(--right)] max-[900px]:grid-cols-[150px_minmax(0,1fr)_230px]">
      <aside
        aria-label="Kinds of findings"
        className="flex min-h-0 flex-col gap-3 overflow-y-auto border-r border-line p-3 [scrollbar-width:thin]"
      >
        <Shelves title="This patch">
          <Pick name="all" count={open.length} on={shown === 'all'} onPick={() => setShown('all')} />
          {SHELVES.map(([id, name]) => (
            <Pick key={id} name={name} count={count(id)} on={shown === id} onPick={() => setShown(id)} />
          ))}
        </Shelves>
        <Shelves title="Set aside">
          <Pick name="with a reason" count={aside.length} on={shown === 'aside'} onPick={() => setShown('aside')} />
        </Shelves>
        <Listened />
      </aside>
      <section aria-label="Findings" className="flex min-h-0 min-w-0 flex-col overflow-y-auto [scrollbar-width:thin]">
        {list.length === 0 && <Nothing aside={shown === 'aside'} />}
        <ul aria-label="What was found">
          {byRule(list).map((group) => (
            <Group
              key={keyOfFinding(group[0])}
              patch={patch}
              findings={group}
              chosen={chosen}
              onChoose={(finding) => setChosenKey(keyOfFinding(finding))}
            />
          ))}
        </ul>
        <p className="mt-auto flex flex-wrap gap-x-4 px-4 py-3 text-[12px] text-faint">
          {(Object.keys(GRADE_NAMES) as Grade[]).map((grade) => (
            <span key={grade} className="inline-flex items-center gap-1.5">
              <GradeSign grade={grade} /> {GRADE_NAMES[grade]}
            </span>
          ))}
        </p>
      </section>
      {thresholds ? (
        <Thresholds rig={rig} readOnly={readOnly} onClose={() => setThresholds(false)} />
      ) : (
        <FindingPanel
          key={chosen ? keyOfFinding(chosen) : 'none'}
          rig={rig}
          patch={patch}
          finding={chosen}
          readOnly={readOnly}
          isOld={checking.isOld}
        />
      )}
      {foot &&
        createPortal(
          <>
            <button
              className="button"
              disabled={safe === 0}
              title="Takes every edit that changes nothing but what is wrong"
              onClick={mendSafe}
            >
              Mend all that is safe{safe > 0 ? ` (${safe})` : ''}
            </button>
            <button
              className="button max-[1000px]:hidden"
              onClick={() => void navigate('/stage', { state: { panel: 'rehearsal' } })}
            >
              Rehearse the show …
            </button>
            <button className="button" aria-pressed={thresholds} onClick={() => setThresholds(!thresholds)}>
              Thresholds …
            </button>
          </>,
          foot,
        )}
    </div>
  );
}

function Shelves({ title, children }: { title: string; children: React.ReactNode }) {
  return (
    <div>
      <h2 className="heading mb-1">{title}</h2>
      <ul className="flex flex-col">{children}</ul>
    </div>
  );
}

function Pick({ name, count, on, onPick }: { name: string; count: number; on: boolean; onPick: () => void }) {
  return (
    <li>
      <button
        className={`flex w-full items-baseline justify-between rounded-md px-2 py-1 text-left ${on ? 'bg-ink text-paper' : 'hover:bg-sheet'}`}
        aria-pressed={on}
        onClick={onPick}
      >
        <span>{name}</span>
        <span className="number text-[12.5px]">{count > 0 ? count : '–'}</span>
      </button>
    </li>
  );
}

/** Findings of one rule under its title once: each of them is a line of its own, with what it is about. */
function Group({
  patch,
  findings,
  chosen,
  onChoose,
}: {
  patch: Patch;
  findings: readonly Finding[];
  chosen: Finding | undefined;
  onChoose: (finding: Finding) => void;
}) {
  const { title } = ruleOf(findings[0].rule);
  return (
    <li className="border-b border-line py-2">
      {/* For a pointer; by keyboard each finding is chosen by itself. */}
      <h3 className="flex cursor-pointer items-center gap-3 pr-4 pl-[15px]" onClick={() => onChoose(findings[0])}>
        <span className="w-4 shrink-0">
          <GradeSign grade={findings[0].grade} />
        </span>
        <span className="font-bold">{title}</span>
        {findings.length > 1 && <span className="number text-[12px] text-faint">{findings.length}</span>}
      </h3>
      <ul>
        {findings.map((finding) => (
          <Row
            key={keyOfFinding(finding)}
            patch={patch}
            finding={finding}
            chosen={finding === chosen}
            onChoose={() => onChoose(finding)}
          />
        ))}
      </ul>
    </li>
  );
}

interface RowProps {
  patch: Patch;
  finding: Finding;
  chosen: boolean;
  onChoose: () => void;
}

function Row({ patch, finding, chosen, onChoose }: RowProps) {
  const { title } = ruleOf(finding.rule);
  const layers = finding.where.layerIds.flatMap((id) => patch.layers.find((layer) => layer.id === id) ?? []);
  return (
    <li
      className={`flex items-center gap-3 py-1 pr-4 pl-[43px] ${chosen ? 'bg-sheet shadow-[inset_3px_0_0_var(--ink)]' : ''}`}
    >
      <button
        className="min-w-0 flex-1 text-left text-[12.5px] text-faint"
        aria-label={`${title}: ${finding.message}`}
        title="Why it is told, how it sounds and what would mend it stand at the right"
        aria-pressed={chosen}
        onClick={onChoose}
        onFocus={onChoose}
      >
        <span className="mr-1 inline-flex gap-1 align-[-1px]">
          {layers.map((layer) => (
            <Mark key={layer.id} mark={layer.mark} size={11} />
          ))}
        </span>
        <span className="break-words">{finding.message}</span>
      </button>
      {finding.hear && (
        <button
          className="button shrink-0 px-2! py-0.5!"
          aria-label={`Hear: ${title}`}
          onClick={() => {
            onChoose();
            showing.play(finding.hear!);
          }}
        >
          ▶ hear
        </button>
      )}
    </li>
  );
}

function Nothing({ aside }: { aside: boolean }) {
  return (
    <p className="px-4 py-6 text-faint">
      {aside
        ? 'Nothing was set aside. What is meant can be: choose a finding, then “Set aside”.'
        : checking.share !== null || checking.patchId === null
          ? 'Nothing was found so far; the patch is being listened to.'
          : 'Nothing was found in this patch. It is looked at again after each edit.'}
    </p>
  );
}

function Listened() {
  const { share, heard, showLeft, problem } = checking;
  return (
    <div role="status" className="mt-1 text-[12px] leading-snug text-faint">
      {problem ? (
        <span className="text-alarm">{problem}</span>
      ) : share !== null ? (
        <>
          Listening … <span className="number">{Math.round(share * 100)}</span> %
        </>
      ) : heard ? (
        <>
          Listened to <span className="number">{heard.strikes}</span> strikes and the take in{' '}
          <span className="number">{heard.seconds.toFixed(1)}</span> s. Runs again after each edit.
        </>
      ) : (
        'Not listened to yet.'
      )}
      {showLeft !== null && showLeft > 0 && (
        <>
          <br />
          {showLeft} {showLeft === 1 ? 'patch' : 'patches'} of the show still to come.
        </>
      )}
    </div>
  );
}
