import { useState } from 'react';
import {
  type FormulaError,
  namesOfFormula,
  parseFormula,
  FORMULA_DEPTH,
  runFormula,
} from '../../../core/space/formula';
import { parseSource } from '../../../core/space/source';
import { deleteRoute, updateRoute } from '../../../core/rig/edits/moves';
import { labelOfTarget, sourcesIn } from '../../../core/rig/moves';
import { parseTarget } from '../../../core/rig/parameters';
import type { Patch, Route } from '../../../core/rig/schema';
import { sourceName } from '../../parts/moved';
import { signed, TargetStrip } from '../../parts/TargetStrip';
import { session } from '../../sound/session';
import { rigSlice } from '../../document/rigSlice';
import { editPatch, told, useAppDispatch, useAppSelector } from '../../document/store';
import { listeningSlice } from '../../listening/listeningSlice';
import { CurveEditor } from './CurveEditor';
import { Part, Row } from '../../parts/Part';
import { CurveSelect, ReachFields, ScaleSelect } from './RoutesTable';
import { NOTES_COUNT } from '../../../core/rig/limits';

/** One route: its ends, its reach in the target's unit and its depth in per cent, its curve. */
export function RoutePanel({ patch, route }: { patch: Patch; route: Route }) {
  const dispatch = useAppDispatch();
  const change = (to: Partial<Omit<Route, 'id'>>, gesture?: string) =>
    dispatch(editPatch(patch.id, (old) => updateRoute(old, route.id, to), gesture));
  const target = parseTarget(route.target)!;
  const alone = useAppSelector((state) => state.listening.alone === route.id);
  const formula = typeof route.source === 'string' ? null : route.source.formula;
  const shared = target.kind !== 'layer' && target.kind !== 'blend';
  const points = typeof route.curve === 'string' ? null : route.curve.points;
  return (
    <>
      <h2 className="text-[15px] leading-snug font-bold">
        {sourceName(patch, route)} → {labelOfTarget(patch, route.target)}
      </h2>
      <div className="flex flex-wrap gap-1.5">
        <button className="button px-2! py-0.5!" aria-pressed={route.on} onClick={() => change({ on: !route.on })}>
          {route.on ? 'on' : 'off'}
        </button>
        <button
          className="button px-2! py-0.5!"
          aria-pressed={route.polarity === 'inverted'}
          onClick={() => change({ polarity: route.polarity === 'inverted' ? 'as-is' : 'inverted' })}
        >
          inverted
        </button>
        <button
          className="button px-2! py-0.5!"
          aria-pressed={alone}
          title="Hear only this route: everything else rests, until it is put back"
          onClick={() => dispatch(listeningSlice.actions.aloneSet(alone ? null : route.id))}
        >
          hear only this
        </button>
        <button
          className="button px-2! py-0.5!"
          aria-pressed={route.bound}
          title="The target never leaves this route’s reach, whatever else moves it"
          onClick={() => change({ bound: !route.bound })}
        >
          stays within its reach
        </button>
      </div>
      <Row label="source">
        <select
          className="field min-w-0 flex-1"
          value={typeof route.source === 'string' ? route.source : '='}
          onChange={(event) =>
            change({
              source:
                event.target.value === '='
                  ? {
                      formula:
                        typeof route.source === 'string'
                          ? route.source === 'key'
                            ? '(key - keyLow) / (keyHigh - keyLow)'
                            : route.source
                          : formula!,
                    }
                  : event.target.value,
            })
          }
        >
          {typeof route.source === 'string' && !sourcesIn(patch).some(({ id }) => id === route.source) && (
            <option value={route.source}>{sourceName(patch, route)}</option>
          )}
          {sourcesIn(patch).map(({ id, label }) => (
            <option key={id} value={id}>
              {label}
            </option>
          ))}
          <option value="=">a formula …</option>
        </select>
      </Row>
      {formula !== null && (
        <FormulaField patch={patch} formula={formula} onChange={(text) => change({ source: { formula: text } })} />
      )}
      <Part title="Its target">
        <TargetStrip patch={patch} target={route.target} label={`${target.parameter.label} rests at`} />
      </Part>
      <Part title={`Reach, in ${target.parameter.unit || 'its own values'}`}>
        <ReachFields patch={patch} route={route} />
        <p className="text-[12px] text-faint">
          That is {signed(route.depth)} of the whole range
          {target.parameter.atStrike ? '; read when a note begins, and kept for it' : ''}.
        </p>
      </Part>
      <Part
        title="Curve"
        action={
          <span className="w-24">
            <CurveSelect patch={patch} route={route} />
          </span>
        }
      >
        {points && (
          <CurveEditor
            label="Curve"
            points={points.map(([x, y]) => [x, y, 0] as const)}
            low={0}
            most={16}
            onChange={(next, gesture) => change({ curve: { points: next.map(([x, y]) => [x, y] as const) } }, gesture)}
            onEnd={() => dispatch(rigSlice.actions.gestureEnded())}
          />
        )}
      </Part>
      <Row label="depth scaled by">
        <span className="w-36">
          <ScaleSelect patch={patch} route={route} />
        </span>
      </Row>
      {shared && (
        <Row label="which note counts">
          <select
            className="field"
            value={route.counts}
            onChange={(event) => change({ counts: event.target.value as Route['counts'] })}
          >
            {NOTES_COUNT.map((way) => (
              <option key={way} value={way}>
                {way === 'mean' ? 'the mean of all' : `the ${way}`}
              </option>
            ))}
          </select>
        </Row>
      )}
      <button
        className="button self-start"
        onClick={() => {
          dispatch(editPatch(patch.id, (old) => deleteRoute(old, route.id)));
          dispatch(told('The route is gone.'));
        }}
      >
        Delete this route
      </button>
    </>
  );
}

/** A formula, checked while it is typed, with the value that it gives now. */
export function FormulaField({
  patch,
  formula,
  onChange,
}: {
  patch: Patch;
  formula: string;
  onChange: (formula: string) => void;
}) {
  const [draft, setDraft] = useState(formula);
  const controllers = useAppSelector((state) => state.rig.rig!.controllers);
  const checked = check(draft);
  const valueOf = (name: string): number => {
    const source = parseSource(name);
    if (!source) return name === 'keyLow' ? controllers.keyLow : controllers.keyHigh;
    const last = session.hands.strikes[session.hands.strikes.length - 1];
    if (source.kind === 'key') return last?.key ?? source.rest;
    if (source.kind === 'velocity') return last?.velocity ?? source.rest;
    if (source.kind === 'cc') return session.hands.controllers.cc[source.index];
    if (source.kind === 'macro') return session.liveOf(name) ?? 0;
    return source.rest;
  };
  const now = typeof checked === 'string' ? undefined : runFormula(checked, valueOf, new Float64Array(FORMULA_DEPTH));
  return (
    <div className="flex flex-col gap-1">
      <textarea
        className={`field number h-14 resize-none text-[12px] ${typeof checked === 'string' ? 'border-alarm!' : ''}`}
        aria-label="Formula"
        value={draft}
        spellCheck={false}
        onChange={(event) => setDraft(event.target.value)}
        onKeyDown={(event) => event.stopPropagation()}
        onBlur={() => {
          if (typeof checked !== 'string' && draft !== formula) onChange(draft);
        }}
      />
      {typeof checked === 'string' ? (
        <p role="alert" className="text-[12px] text-alarm">
          {checked}; kept: {formula}
        </p>
      ) : (
        <p className="text-[12px] text-faint">
          Gives {now!.toFixed(3)} now; held within −1 … 1. Names: sources such as key, velocity, cc.1 (the wheel),
          macro.
          {patch.macros[0]?.number ?? 1}, and keyLow, keyHigh.
        </p>
      )}
    </div>
  );
}

function check(text: string): ReturnType<typeof parseFormula> | string {
  try {
    const steps = parseFormula(text);
    const unknown = namesOfFormula(steps).find((name) => !parseSource(name) && name !== 'keyLow' && name !== 'keyHigh');
    return unknown ? `“${unknown}” names no source` : steps;
  } catch (error) {
    return (error as FormulaError).message;
  }
}
