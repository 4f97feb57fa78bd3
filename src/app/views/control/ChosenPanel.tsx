import type { ReactNode } from 'react';
import { labelOfControl } from '../../../core/music/control';
import { deleteMacro, updateMacro } from '../../../core/rig/edits/moves';
import { labelIn } from '../../../core/rig/moves';
import { parseSource } from '../../../core/space/source';
import type { Patch } from '../../../core/rig/schema';
import { learnTarget, unbind } from '../../hands/learning';
import { useRefresh } from '../../parts/useLive';
import { session } from '../../sound/session';
import { TargetStrip } from '../../parts/TargetStrip';
import { editPatch, told, useAppDispatch, useAppSelector } from '../../document/store';
import { BlendPanel } from './BlendPanel';
import { MoverPanel } from './MoverPanel';
import { MovedByList, Moves } from './Moves';
import { Named, Part } from '../../parts/Part';
import { PadPanel } from './PadPanel';
import { RoutePanel } from './RoutePanel';

/** What is chosen in the Control view, in numbers: a macro, a pad, a mover, a blend, a route, or any other source. */
export function ChosenPanel({ patch }: { patch: Patch }) {
  const chosen = useAppSelector((state) => state.choosing.chosen);
  const frame = (name: string, children: ReactNode) => (
    <aside
      aria-label={name}
      tabIndex={0}
      className="flex min-h-0 flex-col gap-2.5 overflow-y-auto border-l border-line p-3.5 pb-6 [scrollbar-gutter:stable] [scrollbar-width:thin]"
    >
      {children}
    </aside>
  );
  if (!chosen)
    return frame(
      'Nothing chosen',
      <p className="text-faint">
        Choose a macro, a pad, a mover or a route: what it is, what it moves and what moves it is set here.
      </p>,
    );
  if ('route' in chosen) {
    const route = patch.routes.find((candidate) => candidate.id === chosen.route);
    return route
      ? frame('Route', <RoutePanel key={route.id} patch={patch} route={route} />)
      : frame('Nothing chosen', <p className="text-faint">This route is gone.</p>);
  }
  const { source } = chosen;
  const [kind, number] = source.split('.');
  const n = Number(number);
  const macro = kind === 'macro' ? patch.macros.find((candidate) => candidate.number === n) : undefined;
  const pad = kind === 'xy' ? patch.xyPads.find((candidate) => candidate.number === n) : undefined;
  const blend = kind === 'blend' ? patch.blends.find((candidate) => candidate.number === n) : undefined;
  const mover = patch.movers.find((candidate) => candidate.kind === kind && candidate.number === n);
  if (macro) return frame('Macro', <MacroPanel key={source} patch={patch} number={n} />);
  if (pad) return frame('XY pad', <PadPanel key={source} patch={patch} pad={pad} />);
  if (blend) return frame('Blend', <BlendPanel key={source} patch={patch} blend={blend} />);
  if (mover) return frame('Mover', <MoverPanel key={source} patch={patch} mover={mover} />);
  if (parseSource(source))
    return frame(
      'Source',
      <>
        <h2 className="text-[15px] font-bold">{labelIn(patch, source)}</h2>
        <Moves patch={patch} source={source} />
      </>,
    );
  return frame('Nothing chosen', <p className="text-faint">What was chosen is gone.</p>);
}

function MacroPanel({ patch, number }: { patch: Patch; number: number }) {
  useRefresh(session.hands);
  const dispatch = useAppDispatch();
  const macro = patch.macros.find((candidate) => candidate.number === number)!;
  const source = `macro.${number}`;
  const change = (edit: (old: Patch) => Patch) => dispatch(editPatch(patch.id, edit));
  const live = session.liveOf(source) ?? macro.value;
  const binding = useAppSelector((state) =>
    state.rig.rig!.controllers.bindings.find((candidate) => candidate.target === source),
  );
  return (
    <>
      <Named
        name={macro.name}
        kind={`macro ${number}`}
        onName={(name) => change((old) => updateMacro(old, number, { name }))}
      />
      <label className="flex items-center justify-between gap-2">
        played as
        <select
          className="field"
          value={macro.style}
          onChange={(event) =>
            change((old) => updateMacro(old, number, { style: event.target.value as typeof macro.style }))
          }
        >
          <option value="strip">a strip</option>
          <option value="momentary">a button, while pressed</option>
          <option value="latched">a button that stays</option>
        </select>
      </label>
      <Part title="Where it starts">
        <TargetStrip patch={patch} target={source} label="starts at" colour="var(--plum)" />
        <div className="flex flex-wrap gap-1.5">
          <button
            className="button"
            disabled={live === macro.value}
            onClick={() => change((old) => updateMacro(old, number, { value: live }))}
          >
            keep as start
          </button>
          <button
            className="button"
            disabled={live === macro.value}
            onClick={() => session.play({ type: 'rest', kind: 'macro', number })}
          >
            return to start
          </button>
        </div>
      </Part>
      <Part title="Controller">
        {binding ? (
          <p className="flex items-center justify-between gap-2">
            {labelOfControl(binding.control)}
            {binding.channel ? `, channel ${binding.channel}` : ''}
            <button className="button" onClick={() => unbind(source)}>
              let go
            </button>
          </p>
        ) : (
          <p className="text-[12px] text-faint">None. What is learned holds in every patch.</p>
        )}
        <button
          className="button self-start"
          onClick={() => learnTarget(patch.id, source, macro.name || `macro ${number}`)}
        >
          Learn …
        </button>
      </Part>
      <Moves patch={patch} source={source} />
      <MovedByList patch={patch} target={source} />
      <button
        className="button self-start"
        onClick={() => {
          change((old) => deleteMacro(old, number));
          dispatch(told(`The macro “${macro.name}” is gone, with what it moved.`));
        }}
      >
        Delete this macro
      </button>
    </>
  );
}
