import { Popover } from 'radix-ui';
import { useState, type ReactNode } from 'react';
import { createPortal } from 'react-dom';
import { useOutletContext, useParams } from 'react-router';
import { MOVERS, type MoverKindId } from '../../../core/movers';
import { addMacro, addMover } from '../../../core/rig/edits/moves';
import { addPad, blendLayers, spreadOverPad } from '../../../core/rig/edits/pads';
import type { Patch } from '../../../core/rig/schema';
import { ActMenu } from '../../parts/ActMenu';
import { Mark } from '../../parts/Mark';
import { editPatch, notice, selectPatch, store, useAppDispatch, useAppSelector } from '../../document/store';
import { choosingSlice } from '../../hands/choosingSlice';
import { deskSlice } from '../../hands/deskSlice';
import { ChosenPanel } from './ChosenPanel';
import { MacroRow } from './MacroRow';
import { MoverRow } from './MoverRow';
import { PadChart } from './PadChart';
import { RoutesTable } from './RoutesTable';

/** Names that movers come with: waters and winds. */
const MOVER_NAMES: Record<MoverKindId, readonly string[]> = {
  lfo: ['Breath', 'Swell', 'Ripple', 'Tide'],
  envelope: ['Surge', 'Rise', 'Gust'],
  contour: ['Fall', 'Curl', 'Arc'],
  steps: ['Stones', 'Piles', 'Rungs'],
  hold: ['Spray', 'Sparks', 'Shoal'],
  wander: ['Eddy', 'Drift', 'Haze'],
  follower: ['Echo', 'Shadow', 'Wake'],
};
const nameOf = (patch: Patch, kind: MoverKindId): string =>
  MOVER_NAMES[kind].find((name) => !patch.movers.some((mover) => mover.name === name)) ?? MOVER_NAMES[kind][0];

/** What moves what: macros, XY pads, blends, movers, routes; what is chosen, in numbers. */
export function ControlView() {
  const { patchId } = useParams();
  const patch = useAppSelector((state) => selectPatch(state, patchId))!;
  const readOnly = useAppSelector((state) => state.rig.readOnly);
  const foot = useOutletContext<HTMLDivElement | null>();
  return (
    <fieldset disabled={readOnly} className="grid h-full min-w-0 grid-cols-[minmax(0,1fr)_calc(var(--right)-44px)]">
      <div className="grid min-h-0 min-w-0 grid-rows-[minmax(248px,1.6fr)_auto_minmax(110px,1fr)] overflow-y-auto [scrollbar-width:thin]">
        <div
          className="grid min-h-0 min-w-0 border-b-[1.5px] border-ink"
          style={{
            gridTemplateColumns: `${patch.xyPads.length > 0 ? 'clamp(var(--left), 27vw, 720px)' : patch.blends.length > 0 ? 'var(--left)' : ''} minmax(0,1fr)`,
          }}
        >
          {patch.xyPads.length + patch.blends.length > 0 && <Pads patch={patch} />}
          <MacroRow patch={patch} />
        </div>
        {/* Without movers their row folds away; “+ mover” is below. */}
        <div className={`min-h-0 min-w-0 ${patch.movers.length > 0 ? 'h-[112px] border-b border-line' : ''}`}>
          {patch.movers.length > 0 && <MoverRow patch={patch} />}
        </div>
        <RoutesTable patch={patch} />
      </div>
      <ChosenPanel patch={patch} />
      {foot && createPortal(<FootActions patch={patch} />, foot)}
    </fieldset>
  );
}

/** The pads, one in view, and the blends below. */
function Pads({ patch }: { patch: Patch }) {
  const dispatch = useAppDispatch();
  const chosen = useAppSelector((state) => state.choosing.chosen);
  const [shown, setShown] = useState(0);
  const [edits, setEdits] = useState(false);
  const pad = patch.xyPads[Math.min(shown, patch.xyPads.length - 1)];
  const isChosen = (source: string) => chosen !== null && 'source' in chosen && chosen.source === source;
  const choose = (source: string) => dispatch(choosingSlice.actions.chosenSet({ source }));
  return (
    <section
      aria-label="XY pads and blends"
      className="flex min-h-0 flex-col gap-1.5 overflow-y-auto border-r border-line p-2.5 [scrollbar-width:thin]"
    >
      {pad ? (
        <>
          <div className="flex flex-wrap items-center gap-1">
            {patch.xyPads.map((each, i) => (
              <button
                key={each.number}
                className={patch.xyPads.length > 1 ? 'button px-2! py-0! text-[12px]' : 'font-bold'}
                aria-pressed={patch.xyPads.length > 1 ? each === pad : undefined}
                title="Shows what the pad is and what it moves"
                onClick={() => {
                  setShown(i);
                  choose(`xy.${each.number}`);
                }}
              >
                {each.name}
              </button>
            ))}
            {patch.xyPads.length === 1 && <span className="text-[12px] text-faint">XY pad {pad.number}</span>}
          </div>
          <div className="contents" onPointerDownCapture={() => choose(`xy.${pad.number}`)}>
            <PadChart patch={patch} pad={pad} edits={edits} />
          </div>
          <p className="flex items-center justify-between gap-2 text-[12px] text-faint">
            <span>
              {
                {
                  hand: 'moved by hand',
                  wander: 'wanders by itself',
                  path: 'follows its path',
                  spring: 'springs back to its rest',
                }[pad.motion]
              }
              {pad.anchors.length === 0 ? '; no anchors yet' : ''}
            </span>
            {pad.anchors.length > 0 && (
              <button
                className="button px-2! py-0! text-ink"
                aria-pressed={edits}
                title="Anchors are dragged, instead of the dot"
                onClick={() => setEdits(!edits)}
              >
                move anchors
              </button>
            )}
          </p>
        </>
      ) : null}
      {patch.blends.map((blend) => (
        <button
          key={blend.number}
          className={`flex items-baseline justify-between rounded border px-2 py-0.5 text-left ${isChosen(`blend.${blend.number}`) ? 'border-ink shadow-[inset_0_0_0_1px_var(--ink)]' : 'border-edge'}`}
          onClick={() => choose(`blend.${blend.number}`)}
        >
          <span dir="auto" className="min-w-0 truncate font-bold">
            {blend.name}
          </span>
          <span className="text-[12px] text-faint">blend {blend.number}</span>
        </button>
      ))}
    </section>
  );
}

/** Makes something under the first free number and shows it; says so where there is no room. */
function useMaking(patch: Patch) {
  const dispatch = useAppDispatch();
  return (
    make: (old: Patch) => { patch: Patch; number: number } | undefined,
    source: (number: number) => string,
    full: string,
  ) => {
    let number: number | undefined;
    dispatch(
      editPatch(patch.id, (old) => {
        const made = make(old);
        number = made?.number;
        return made?.patch ?? old;
      }),
    );
    if (number === undefined) dispatch(notice('info', full, 'full'));
    else dispatch(choosingSlice.actions.chosenSet({ source: source(number) }));
  };
}

function FootActions({ patch }: { patch: Patch }) {
  const dispatch = useAppDispatch();
  const make = useMaking(patch);
  const sheet = (which: 'monitor' | 'controllers' | 'outside') =>
    dispatch(deskSlice.actions.sheetOpened(store.getState().desk.sheet === which ? null : which));
  return (
    <>
      <button
        className="button"
        onClick={() =>
          make(
            (old) => addMacro(old, `Macro ${old.macros.length + 1}`),
            (n) => `macro.${n}`,
            'A patch has sixteen macros at the most.',
          )
        }
      >
        + macro
      </button>
      <ActMenu
        label="+ mover"
        title="Add something that moves by itself"
        items={MOVERS.map(({ id, label }) => [id, label] as const)}
        onChoose={(kind) =>
          make(
            (old) => addMover(old, kind as MoverKindId, nameOf(old, kind as MoverKindId)),
            (n) => `${kind}.${n}`,
            'A patch has sixteen movers at the most.',
          )
        }
      />
      <button
        className="button max-[1000px]:hidden"
        onClick={() =>
          make(
            (old) => addPad(old, `Pad ${old.xyPads.length + 1}`),
            (n) => `xy.${n}`,
            'A patch has four XY pads at the most.',
          )
        }
      >
        + XY pad
      </button>
      <ChooseLayers
        patch={patch}
        name="Spread over a pad"
        most={8}
        does="An anchor for each, all around: in the middle all play at equal power."
        onApply={(ids) =>
          make(
            (old) => spreadOverPad(old, ids, `Pad ${old.xyPads.length + 1}`),
            (n) => `xy.${n}`,
            'A patch has four XY pads at the most.',
          )
        }
      />
      <ChooseLayers
        patch={patch}
        name="Blend layers"
        most={16}
        does="Along one line, each fading into the next at constant power; then choose what takes the blend from where it rests."
        onApply={(ids) =>
          make(
            (old) => blendLayers(old, ids, `Blend ${old.blends.length + 1}`),
            (n) => `blend.${n}`,
            'A patch has eight blends at the most.',
          )
        }
      />
      <button className="button" onClick={() => sheet('controllers')}>
        Controllers
      </button>
      <button
        className="button max-[1000px]:hidden"
        title="Instruments outside: racks and other computers that play along"
        onClick={() => sheet('outside')}
      >
        Outside
      </button>
      <button className="button" onClick={() => sheet('monitor')}>
        Monitor
      </button>
    </>
  );
}

/** Two or more layers are chosen, and something is made of them in one step. */
function ChooseLayers({
  patch,
  name,
  does,
  most,
  onApply,
}: {
  patch: Patch;
  name: string;
  does: ReactNode;
  most: number;
  onApply: (layerIds: string[]) => void;
}) {
  const [open, setOpen] = useState(false);
  const [chosen, setChosen] = useState<string[] | null>(null);
  const ids = chosen ?? patch.layers.slice(0, most).map((layer) => layer.id);
  const problem =
    ids.length < 2 ? 'choose two layers or more' : ids.length > most ? `choose ${most} at the most` : undefined;
  return (
    <Popover.Root
      open={open}
      onOpenChange={(next) => {
        setOpen(next);
        setChosen(null);
      }}
    >
      <Popover.Trigger className="button" disabled={patch.layers.length < 2}>
        {name}
      </Popover.Trigger>
      <Popover.Portal>
        <Popover.Content
          side="top"
          align="end"
          sideOffset={128}
          collisionPadding={8}
          className="panel w-72"
          aria-label={name}
        >
          <form
            className="flex flex-col gap-2"
            onSubmit={(event) => {
              event.preventDefault();
              if (!problem) {
                onApply(ids);
                setOpen(false);
              }
            }}
          >
            <h2 className="text-[14px] font-bold">{name}</h2>
            <p className="text-[12px] text-faint">{does}</p>
            <div className="max-h-60 overflow-y-auto">
              {patch.layers.map((layer) => (
                <label key={layer.id} className="flex items-center gap-2 py-0.5">
                  <input
                    type="checkbox"
                    checked={ids.includes(layer.id)}
                    onChange={(event) =>
                      setChosen(event.target.checked ? [...ids, layer.id] : ids.filter((id) => id !== layer.id))
                    }
                  />
                  <Mark mark={layer.mark} size={11} />
                  <span dir="auto" className="min-w-0 truncate">
                    {layer.name}
                  </span>
                </label>
              ))}
            </div>
            <div className="flex items-center justify-between gap-2">
              <span role="alert" className="text-[12px] text-alarm">
                {problem}
              </span>
              <button type="submit" className="button bg-ink! text-paper!" disabled={!!problem}>
                Apply
              </button>
            </div>
          </form>
        </Popover.Content>
      </Popover.Portal>
    </Popover.Root>
  );
}
