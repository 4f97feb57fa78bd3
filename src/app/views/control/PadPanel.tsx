import { useEffect, useRef, useState } from 'react';
import { addAnchor, deletePad } from '../../../core/rig/edits/moves';
import { deleteAnchor, updatePad } from '../../../core/rig/edits/pads';
import { labelOfControl } from '../../../core/music/control';
import type { Patch, XyPad } from '../../../core/rig/schema';
import { learnTarget, unbind } from '../../hands/learning';
import { TargetStrip } from '../../parts/TargetStrip';
import { useRefresh } from '../../parts/useLive';
import { session } from '../../sound/session';
import { editPatch, told, useAppDispatch, useAppSelector } from '../../document/store';
import { Moves } from './Moves';
import { Named, Part, Row } from '../../parts/Part';

const MOTIONS: Record<XyPad['motion'], string> = {
  hand: 'by hand alone',
  wander: 'wanders by itself',
  path: 'along its recorded path',
  spring: 'springs back to its rest',
};

/** An XY pad in numbers: its motion, its anchors, what its axes move. */
export function PadPanel({ patch, pad }: { patch: Patch; pad: XyPad }) {
  useRefresh(session.hands);
  const dispatch = useAppDispatch();
  const bindings = useAppSelector((state) => state.rig.rig!.controllers.bindings);
  const { number } = pad;
  const change = (edit: (old: Patch) => Patch) => dispatch(editPatch(patch.id, edit));
  const x = session.liveOf(`xy.${number}.x`) ?? pad.x;
  const y = session.liveOf(`xy.${number}.y`) ?? pad.y;
  const elsewhere = x !== pad.x || y !== pad.y;
  const free = [...patch.layers, ...patch.groups].filter(
    (layer) => !pad.anchors.some((anchor) => anchor.layerId === layer.id),
  );
  return (
    <>
      <Named
        name={pad.name}
        kind={`XY pad ${number}`}
        onName={(name) => change((old) => updatePad(old, number, { name }))}
      />
      <Row label="the dot moves">
        <select
          className="field"
          value={pad.motion}
          onChange={(event) =>
            change((old) => updatePad(old, number, { motion: event.target.value as XyPad['motion'] }))
          }
        >
          {(Object.keys(MOTIONS) as XyPad['motion'][]).map((motion) => (
            <option key={motion} value={motion}>
              {MOTIONS[motion]}
            </option>
          ))}
        </select>
      </Row>
      {pad.motion === 'wander' && (
        <>
          <TargetStrip patch={patch} target={`xy.${number}.speed`} />
          <TargetStrip patch={patch} target={`xy.${number}.radius`} />
        </>
      )}
      {pad.motion === 'spring' && <TargetStrip patch={patch} target={`xy.${number}.spring`} />}
      <PathRecorder pad={pad} onPath={(path) => change((old) => updatePad(old, number, { path, motion: 'path' }))} />
      <Part title="Where it starts">
        <TargetStrip patch={patch} target={`xy.${number}.x`} />
        <TargetStrip patch={patch} target={`xy.${number}.y`} />
        <div className="flex flex-wrap gap-1.5">
          <button
            className="button"
            disabled={!elsewhere}
            onClick={() => change((old) => updatePad(old, number, { x, y }))}
          >
            keep as start
          </button>
          <button
            className="button"
            disabled={!elsewhere}
            onClick={() => session.play({ type: 'rest', kind: 'xy', number })}
          >
            return to start
          </button>
        </div>
      </Part>
      <Part title="Anchors">
        <ul className="flex flex-col gap-1">
          {pad.anchors.map((anchor, i) => (
            <li key={i} className="flex items-center gap-1.5">
              <span dir="auto" className="min-w-0 flex-1 truncate">
                {anchor.name}
              </span>
              <span className="number text-[12px] text-faint">
                {Math.round(anchor.x * 100)}, {Math.round(anchor.y * 100)}
              </span>
              <button
                className="button-bare"
                aria-label={`Take the anchor ${anchor.name} away`}
                onClick={() => change((old) => deleteAnchor(old, number, i))}
              >
                ×
              </button>
            </li>
          ))}
        </ul>
        {pad.anchors.length < 8 && (
          <select
            className="field"
            value=""
            aria-label="Add an anchor"
            onChange={(event) => {
              const layer = [...patch.layers, ...patch.groups].find((candidate) => candidate.id === event.target.value);
              if (event.target.value)
                change((old) =>
                  addAnchor(old, number, {
                    name: layer?.name ?? `anchor ${pad.anchors.length + 1}`,
                    x: 0.5,
                    y: 0.5,
                    layerId: layer?.id ?? null,
                  }),
                );
            }}
          >
            <option value="">an anchor more …</option>
            {free.map((layer) => (
              <option key={layer.id} value={layer.id}>
                for {layer.name}
              </option>
            ))}
            <option value="-">for nothing yet</option>
          </select>
        )}
      </Part>
      <Part title="Controllers">
        {(['x', 'y'] as const).map((axis) => {
          const target = `xy.${number}.${axis}`;
          const binding = bindings.find((candidate) => candidate.target === target);
          return (
            <p key={axis} className="flex items-center justify-between gap-2">
              <span>
                {axis}: {binding ? labelOfControl(binding.control) : 'none'}
              </span>
              <span className="flex gap-1">
                {binding && (
                  <button className="button px-2! py-0!" onClick={() => unbind(target)}>
                    let go
                  </button>
                )}
                <button
                  className="button px-2! py-0!"
                  onClick={() => learnTarget(patch.id, target, `${axis} of ${pad.name}`)}
                >
                  Learn …
                </button>
              </span>
            </p>
          );
        })}
      </Part>
      {(['x', 'y'] as const).map((axis) => (
        <div key={axis}>
          <p className="text-[12px] font-bold">{axis} of the dot</p>
          <Moves patch={patch} source={`xy.${number}.${axis}`} />
        </div>
      ))}
      <button
        className="button self-start"
        onClick={() => {
          change((old) => deletePad(old, number));
          dispatch(told(`The XY pad “${pad.name}” is gone, with the windows on its anchors.`));
        }}
      >
        Delete this pad
      </button>
    </>
  );
}

/** Records the dot as it is moved by hand; played back it goes round and round. */
function PathRecorder({ pad, onPath }: { pad: XyPad; onPath: (path: [number, number, number][]) => void }) {
  const [recording, setRecording] = useState(false);
  const points = useRef<[number, number, number][]>([]);
  const timer = useRef<ReturnType<typeof setInterval> | undefined>(undefined);
  useEffect(() => () => clearInterval(timer.current), []);
  const toggle = () => {
    clearInterval(timer.current);
    if (recording) {
      setRecording(false);
      if (points.current.length > 1) onPath(points.current);
      return;
    }
    points.current = [];
    const began = performance.now();
    timer.current = setInterval(() => {
      if (points.current.length < 1500)
        points.current.push([
          (performance.now() - began) / 1000,
          session.liveOf(`xy.${pad.number}.x`) ?? pad.x,
          session.liveOf(`xy.${pad.number}.y`) ?? pad.y,
        ]);
    }, 40);
    setRecording(true);
  };
  return (
    <button className="button self-start" aria-pressed={recording} onClick={toggle}>
      {recording ? 'end the path' : pad.path.length > 1 ? 'record another path' : 'record a path'}
    </button>
  );
}
