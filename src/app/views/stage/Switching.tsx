import { labelOfControl } from '../../../core/music/control';
import type { ControllerSetup } from '../../../core/rig/schema';
import { learnTarget, unbind } from '../../hands/learning';
import { ActMenu } from '../../parts/ActMenu';
import { stepsOfShow, titleOfStep } from '../../show/show';
import { edit, useAppDispatch, useAppSelector } from '../../document/store';

const ACTIONS = [
  ['show.next', 'next'],
  ['show.previous', 'back'],
  ['show.silence', 'silence'],
  ['show.page', 'page on'],
  ['show.page.back', 'page back'],
  ['show.lead', 'take over'],
] as const;
const KEYS_OF: Readonly<Record<(typeof ACTIONS)[number][0], readonly string[]>> = {
  'show.next': ['→ ↓ page down'],
  'show.previous': ['← ↑ page up'],
  'show.silence': ['Esc Esc'],
  'show.page': ['N'],
  'show.page.back': ['B'],
  'show.lead': [],
};
const PROGRAMS: readonly (readonly [ControllerSetup['programs'], string])[] = [
  ['off', 'choose nothing'],
  ['setlist', 'choose a step of the setlist'],
  ['patches', 'choose a patch of the rig'],
];

/** By which pedal, pad, note or program change one goes through the show. */
export function Switching() {
  const dispatch = useAppDispatch();
  const { bindings, programs, programChannel } = useAppSelector((state) => state.rig.rig!.controllers);
  const set = (to: Partial<ControllerSetup>) =>
    dispatch(edit((rig) => ({ ...rig, controllers: { ...rig.controllers, ...to } })));
  const here = bindings.filter(({ target }) => target.startsWith('patch.') || target.startsWith('show.step.'));
  return (
    <section aria-label="Going through the show" className="flex flex-col gap-1.5 rounded-lg border border-line p-3">
      <h2 className="heading">Going through the show</h2>
      {ACTIONS.map(([target, label]) => {
        const found = bindings.filter((binding) => binding.target === target);
        return (
          <p key={target} className="flex min-h-10 items-center gap-2">
            <span className="w-20">{label}</span>
            <span className="min-w-0 flex-1 truncate text-faint">
              {[...KEYS_OF[target], ...found.map(({ control }) => labelOfControl(control))].join(' · ')}
            </span>
            {found.length > 0 && (
              <button className="button h-10" onClick={() => unbind(target)}>
                let go
              </button>
            )}
            <button className="button h-10" onClick={() => learnTarget('', target, label)}>
              Learn …
            </button>
          </p>
        );
      })}
      <p className="flex min-h-10 flex-wrap items-center gap-2">
        <span className="w-36">program changes</span>
        <select
          className="field h-10 min-w-0"
          aria-label="What program changes do"
          value={programs}
          onChange={(event) => set({ programs: event.target.value as ControllerSetup['programs'] })}
        >
          {PROGRAMS.map(([id, words]) => (
            <option key={id} value={id}>
              {words}
            </option>
          ))}
        </select>
        {programs !== 'off' && (
          <label className="flex items-center gap-1.5">
            on channel
            <select
              className="field h-10"
              value={programChannel}
              onChange={(event) => set({ programChannel: Number(event.target.value) })}
            >
              <option value={0}>any</option>
              {Array.from({ length: 16 }, (_, i) => (
                <option key={i} value={i + 1}>
                  {i + 1}
                </option>
              ))}
            </select>
          </label>
        )}
      </p>
      <LearnStep />
      {here.length > 0 && (
        <ul>
          {here.map((binding) => (
            <li key={`${binding.control} ${binding.target}`} className="flex min-h-10 items-center gap-2">
              <span className="flex-1">
                <NameOfTarget target={binding.target} control={binding.control} />
              </span>
              <button className="button h-10" onClick={() => unbind(binding.target)}>
                let go
              </button>
            </li>
          ))}
        </ul>
      )}
    </section>
  );
}

function NameOfTarget({ target, control }: { target: string; control: string }) {
  const rig = useAppSelector((state) => state.rig.rig!);
  return (
    <>
      {labelOfControl(control)} →{' '}
      {target.startsWith('patch.')
        ? rig.patches.find(({ id }) => id === target.slice(6))?.name
        : `step ${target.slice(10)}`}
    </>
  );
}

/** A control of its own for one patch or one step. */
function LearnStep() {
  const rig = useAppSelector((state) => state.rig.rig!);
  const steps = stepsOfShow(rig);
  const items = [
    ...steps.map((step, n) => [`show.step.${n + 1}`, `step ${n + 1}: ${titleOfStep(rig, step).title}`] as const),
    ...rig.patches.map(({ id, name }) => [`patch.${id}`, name] as const),
  ];
  return (
    <p className="flex min-h-10 items-center gap-2">
      <span className="min-w-0 flex-1">a pad, a note or a button of its own for</span>
      <ActMenu
        className="h-10"
        label="a step, a patch …"
        title="Then press what shall choose it"
        items={items}
        onChoose={(target) => learnTarget('', target, items.find(([id]) => id === target)![1])}
      />
    </p>
  );
}
