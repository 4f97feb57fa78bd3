import { useEffect, useMemo, useRef, useState } from 'react';
import { useNavigate } from 'react-router';
import { keepVersion } from '../../../core/rig/edits/versions';
import { effectKind } from '../../../core/effects';
import { effectsIn, nameOfPlace, placesIn } from '../../../core/rig/mix';
import { kindsOf } from '../../../core/rig/moves';
import { parametersFor } from '../../../core/rig/parameters';
import type { Patch } from '../../../core/rig/schema';
import { session } from '../../sound/session';
import { editPatch, newId, useAppDispatch, useAppSelector, type AppDispatch } from '../../document/store';
import { typedAhead } from '../../hands/typedAhead';
import { settingsSlice } from '../../document/settingsSlice';
import { choosingSlice } from '../../hands/choosingSlice';
import { deskSlice, type Sheet } from '../../hands/deskSlice';
import { layersSlice, LAYER_PARTS } from '../layers/layersSlice';
import { mixSlice } from '../mix/mixSlice';
import { soundsSlice } from '../sounds/soundsSlice';
import { partOf } from '../layers/inspector/parts';
import { kindPartOf } from '../sounds/kinds/partsOf';
import { SHEETS, VIEWS, type Place, type ViewName } from '../../parts/help/places';
import { SheetFrame } from '../../parts/Sheet';
import { useView } from '../../parts/useView';

interface Found {
  kind: string;
  name: string;
  /** What it is, in one sentence. */
  says?: string;
  go: () => void;
}
const SHEET_NAMES = (Object.entries(SHEETS) as [Sheet, Place][]).filter(([sheet]) => sheet !== 'search');
const MOST_SHOWN = 14;
const LONGEST_WAIT_MS = 3000;

/** Gives the strip of a target the focus, as soon as its view is loaded and drawn. */
function focusOnceDrawn(target: string, until = performance.now() + LONGEST_WAIT_MS): void {
  const strip = document.querySelector<HTMLElement>(`[data-target="${target}"] [role="slider"]`);
  if (strip) strip.focus();
  else if (performance.now() < until) setTimeout(() => focusOnceDrawn(target, until), 30);
}

/**
 * Everything that has a name: parameters, actions, layers, sounds, patches. What is typed may be parts of words in any
 * order.
 */
export function SearchSheet({ patch }: { patch: Patch }) {
  const dispatch = useAppDispatch();
  const navigate = useNavigate();
  const view = useView();
  const rig = useAppSelector((state) => state.rig.rig)!;
  const selectedId = useAppSelector((state) => state.choosing.selectedLayerId);
  const [typed, setTyped] = useState('');
  const [at, setAt] = useState(0);
  const box = useRef<HTMLInputElement>(null);
  const all = useMemo((): Found[] => {
    const to = (path: string) => () => void navigate(path);
    const layers = [...patch.layers].sort((a, b) => Number(b.id === selectedId) - Number(a.id === selectedId));
    return [
      ...rig.patches.map((each) => ({ kind: 'patch', name: each.name, go: to(`/patch/${each.id}/${view}`) })),
      ...ACTIONS.map(([name, act]) => ({ kind: 'action', name, go: () => act(dispatch) })),
      ...SHEET_NAMES.map(([sheet, { title, says }]) => ({
        kind: 'action',
        name: title,
        says,
        go: () => dispatch(deskSlice.actions.sheetOpened(sheet)),
      })),
      {
        kind: 'action',
        name: 'Compare: keep this patch as it is as a version',
        go: () => {
          dispatch(editPatch(patch.id, (old) => keepVersion(old, [newId(), newId()])));
        },
      },
      ...['Layers', 'Sounds', 'Control', 'Mix', 'Check'].map((name) => ({
        kind: 'view',
        name,
        says: VIEWS[name.toLowerCase() as ViewName].says,
        go: to(`/patch/${patch.id}/${name.toLowerCase()}`),
      })),
      ...layers.map((layer) => ({
        kind: 'layer',
        name: layer.name,
        go: () => {
          dispatch(choosingSlice.actions.layerSelected(layer.id));
          void navigate(`/patch/${patch.id}/layers`);
        },
      })),
      ...layers.flatMap((layer) =>
        LAYER_PARTS.map((part) => ({
          kind: 'part',
          name: `${part} of ${layer.name}`,
          go: () => {
            dispatch(choosingSlice.actions.layerSelected(layer.id));
            dispatch(layersSlice.actions.layerPartShown(part));
            void navigate(`/patch/${patch.id}/layers`);
          },
        })),
      ),
      ...layers.flatMap((layer) =>
        parametersFor(kindsOf(layer, rig.sounds)).map(({ id, label, of, help }) => ({
          kind: 'parameter',
          name: `${label} of ${layer.name}`,
          says: help,
          go: () => {
            if (of) {
              dispatch(choosingSlice.actions.layerSelected(layer.id));
              dispatch(soundsSlice.actions.kindPartShown(kindPartOf(id)));
              void navigate(`/patch/${patch.id}/sounds/${layer.soundId}`);
              focusOnceDrawn(`layer.${layer.id}.${id}`);
              return;
            }
            dispatch(choosingSlice.actions.layerSelected(layer.id));
            dispatch(layersSlice.actions.layerPartShown(partOf(id)));
            void navigate(`/patch/${patch.id}/layers`);
            focusOnceDrawn(`layer.${layer.id}.${id}`);
          },
        })),
      ),
      ...placesIn(patch).map((place) => ({
        kind: 'strip of the mix',
        name: nameOfPlace(patch, place),
        go: () => {
          dispatch(choosingSlice.actions.mixChosenSet({ kind: 'place', id: place }));
          void navigate(`/patch/${patch.id}/mix`);
        },
      })),
      ...effectsIn(patch).flatMap(({ place, effect }) => {
        const open = () => {
          dispatch(choosingSlice.actions.mixChosenSet({ kind: 'effect', id: effect.id }));
          dispatch(mixSlice.actions.mixAsSet('river'));
          void navigate(`/patch/${patch.id}/mix`);
        };
        const { label, parameters } = effectKind(effect.kind);
        return [
          { kind: 'effect', name: `${label} on ${nameOfPlace(patch, place)}`, go: open },
          ...Object.values(parameters).map((parameter) => ({
            kind: 'parameter',
            name: `${parameter.label} of ${label} on ${nameOfPlace(patch, place)}`,
            says: parameter.help,
            go: () => {
              open();
              focusOnceDrawn(`${effect.kind}.${effect.id}.${parameter.id}`);
            },
          })),
        ];
      }),
      ...rig.sounds.map((sound) => ({
        kind: 'sound',
        name: sound.name,
        go: to(`/patch/${patch.id}/sounds/${sound.id}`),
      })),
    ];
  }, [dispatch, navigate, patch, rig, selectedId, view]);
  const words = typed.toLowerCase().split(/\s+/).filter(Boolean);
  const has = (text: string) => words.every((word) => text.toLowerCase().includes(word));
  const byName = all.filter(({ kind, name }) => has(`${name} ${kind}`));
  // What says so of itself comes after what is called so.
  const named = new Set(byName);
  const bySentence = all.filter((each) => !named.has(each) && has(`${each.name} ${each.says ?? ''}`));
  const found = [...byName, ...bySentence].slice(0, MOST_SHOWN);
  const chosen = Math.min(at, found.length - 1);
  const go = (each: Found | undefined) => {
    if (!each) return;
    dispatch(deskSlice.actions.sheetOpened(null));
    each.go();
  };
  const [entered, setEntered] = useState(false);
  useEffect(() => {
    const ahead = typedAhead.take();
    if (ahead.text) setTyped((now) => ahead.text + now);
    if (ahead.entered) setEntered(true);
  }, []);
  useEffect(() => {
    if (entered) go(found[0]);
    // eslint-disable-next-line react-hooks/exhaustive-deps -- once, with what is found by then
  }, [entered]);
  return (
    <SheetFrame title="Go to">
      <input
        ref={box}
        autoFocus
        className="field w-full py-1!"
        aria-label="What to look for"
        placeholder="a parameter, an action, a patch …"
        value={typed}
        role="combobox"
        aria-expanded
        aria-controls="found"
        aria-activedescendant={found[chosen] && `found-${chosen}`}
        onChange={(event) => {
          setTyped(event.target.value);
          setAt(0);
        }}
        onKeyDown={(event) => {
          if (event.key === 'ArrowDown') setAt(Math.min(found.length - 1, chosen + 1));
          else if (event.key === 'ArrowUp') setAt(Math.max(0, chosen - 1));
          else if (event.key === 'Enter') go(found[chosen]);
          else return;
          event.preventDefault();
        }}
      />
      <ul id="found" role="listbox" aria-label="Found" className="mt-2">
        {found.map((each, i) => (
          <li
            key={`${each.kind} ${each.name} ${i}`}
            id={`found-${i}`}
            role="option"
            aria-selected={i === chosen}
            className={`flex cursor-pointer items-center gap-2 rounded-[5px] px-2 py-1 ${i === chosen ? 'bg-ink text-paper' : ''}`}
            onPointerMove={() => setAt(i)}
            onClick={() => go(each)}
          >
            <span dir="auto" className="min-w-0 flex-1 truncate">
              {each.name}
            </span>
            <span className={`text-[11.5px] ${i === chosen ? '' : 'text-faint'}`}>{each.kind}</span>
          </li>
        ))}
        {found.length === 0 && <li className="px-2 py-1 text-faint">Nothing has that name.</li>}
      </ul>
      <p role="status" className="mt-1 min-h-8 border-t border-line px-2 pt-1 text-[12px] text-faint">
        {found[chosen]?.says}
      </p>
    </SheetFrame>
  );
}

const ACTIONS: readonly (readonly [string, (dispatch: AppDispatch) => void])[] = [
  ['Silence', () => session.panic()],
  ['Play or stop the take', () => session.toggleTake()],
  ['Tap the tempo', () => session.input.tap()],
  ['Stand-in controllers', (dispatch) => dispatch(deskSlice.actions.standInsOpened(true))],
  ['Chart theme', (dispatch) => dispatch(settingsSlice.actions.themeChosen('chart'))],
  ['Night theme', (dispatch) => dispatch(settingsSlice.actions.themeChosen('night'))],
];
