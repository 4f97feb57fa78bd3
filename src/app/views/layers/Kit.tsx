import { useRef, useState, type DragEvent, type KeyboardEvent, type ReactNode } from 'react';
import { DropdownMenu, Popover } from 'radix-ui';
import { EllipsisVertical, Search } from 'lucide-react';
import { updateGroup } from '../../../core/rig/edits/groups';
import { copyStructure, exchangeMember, fillPad, padsOf, type Pad } from '../../../core/rig/edits/kit';
import { nameOfKey } from '../../../core/music/noteNames';
import type { PutPlace } from '../../../core/rig/edits/put';
import type { Patch, Rig } from '../../../core/rig/schema';
import type { BroughtFile } from '../../../core/formats/bringIn';
import { bringInForExchange } from '../../jobs/bringIn';
import { taken } from '../../document/carrying';
import { editAndListen, putThere } from '../../document/putting';
import { isHere } from '../../parts/isHere';
import { colourOf, Mark } from '../../parts/Mark';
import { useRefresh } from '../../parts/useLive';
import { session } from '../../sound/session';
import { editPatch, newId, notice, useAppDispatch, useAppSelector } from '../../document/store';
import { choosingSlice } from '../../hands/choosingSlice';
import { BrowserPanel } from './SoundBrowser';

const LEAST_PADS = 16;
/** Keys that are pressed on the pad itself, and not on a button of it or in its menu. */
const isPad = (event: KeyboardEvent): boolean => event.target === event.currentTarget;

/** The pads of a kit, to strike and to fill: a group on one key each. */
export function Kit({ patch }: { patch: Patch }) {
  const dispatch = useAppDispatch();
  const middleC = useAppSelector((state) => state.settings.middleC);
  const selected = useAppSelector((state) => state.choosing.selectedGroupId);
  const [chooses, setChooses] = useState(true);
  useRefresh(session.hands);
  const pads = padsOf(patch);
  const first = pads.length > 0 ? Math.min(36, pads[0].key) : 36;
  const last = Math.max(first + LEAST_PADS - 1, pads.length > 0 ? pads[pads.length - 1].key : 0);
  const keys = Array.from(
    { length: Math.min(128 - first, Math.ceil((last - first + 1) / 4) * 4) },
    (_, i) => first + i,
  );
  /** Files come in one by one, each by an edit; what a hand carries of the rig is put there whole. */
  const drop = async (
    event: DragEvent,
    place: PutPlace,
    words: string,
    change: (rig: Rig, file: BroughtFile, name: string) => Rig,
  ) => {
    const carried = taken(event);
    if (carried) return putThere(carried, place, words);
    event.preventDefault();
    event.stopPropagation();
    const { files, problems } = await bringInForExchange({ nativeEvent: event.nativeEvent });
    for (const file of files)
      editAndListen((old) => change(old, file, file.sample.name.replace(/\.\w+$/, '')), [file.sample.id]);
    if (problems.length > 0) dispatch(notice('problem', `${problems.join('; ')}. Nothing of these came in.`, 'pad'));
  };
  return (
    <div
      className="flex min-h-0 min-w-0 flex-col gap-2 overflow-y-auto bg-sheet p-3"
      role="group"
      aria-label="Pads of the kit"
    >
      <div className="flex items-center gap-3 text-[12px]">
        <span className="text-faint">
          {pads.length === 0
            ? 'No pad yet: drop recordings here, one on each.'
            : 'Strike low on a pad for hard. A file dropped on a pad comes on top, one dropped on a member takes its place.'}
        </span>
        <label className="ml-auto flex items-center gap-1.5 whitespace-nowrap">
          <input type="checkbox" checked={chooses} onChange={(event) => setChooses(event.target.checked)} /> striking
          chooses
        </label>
      </div>
      <div className="grid flex-1 grid-cols-[repeat(auto-fill,minmax(112px,1fr))] content-start gap-2">
        {keys.map((key) => {
          const pad = pads.find((each) => each.key === key);
          const lit = session.hands.held.has(key);
          return (
            <div
              key={key}
              data-pad={key}
              role="button"
              tabIndex={0}
              aria-label={
                pad ? `Pad ${pad.group.name}, ${nameOfKey(key, middleC)}` : `Empty pad, ${nameOfKey(key, middleC)}`
              }
              className={`relative flex h-[86px] touch-none flex-col rounded-lg border-[1.5px] p-1.5 text-left select-none ${pad ? 'cursor-pointer' : 'border-dashed opacity-60'} ${pad && pad.group.id === selected ? 'border-ink' : 'border-edge'}`}
              style={{
                background: pad
                  ? `color-mix(in srgb, ${colourOf(pad.group.mark)} ${lit ? 60 : 16}%, var(--sheet))`
                  : undefined,
              }}
              onPointerDown={(event) => {
                if (!isHere(event) || (event.target as HTMLElement).closest('[data-quiet]')) return;
                event.currentTarget.setPointerCapture(event.pointerId);
                const box = event.currentTarget.getBoundingClientRect();
                session.play({
                  type: 'noteOn',
                  channel: 1,
                  key,
                  velocity: Math.round(
                    Math.min(127, Math.max(12, 20 + (107 * (event.clientY - box.top)) / box.height)),
                  ),
                });
                if (pad && chooses) dispatch(choosingSlice.actions.groupSelected(pad.group.id));
              }}
              onPointerUp={() => session.play({ type: 'noteOff', channel: 1, key, velocity: 64 })}
              onPointerCancel={() => session.play({ type: 'noteOff', channel: 1, key, velocity: 64 })}
              onKeyDown={(event) => {
                if (event.key !== 'Enter' || event.repeat || !isPad(event)) return;
                session.play({ type: 'noteOn', channel: 1, key, velocity: 100 });
                if (pad && chooses) dispatch(choosingSlice.actions.groupSelected(pad.group.id));
                event.preventDefault();
              }}
              onKeyUp={(event) => {
                if (event.key === 'Enter' && isPad(event))
                  session.play({ type: 'noteOff', channel: 1, key, velocity: 64 });
              }}
              onDragOver={(event) => event.preventDefault()}
              onDrop={(event) =>
                void drop(
                  event,
                  { to: 'pad', patchId: patch.id, key },
                  `is on the pad of ${nameOfKey(key, middleC)}`,
                  (old, file, name) => fillPad(old, patch.id, key, name, file.sample, newId),
                )
              }
            >
              <div className="flex items-center gap-1">
                <span dir="auto" className="min-w-0 flex-1 truncate text-[13px] font-bold">
                  {pad?.group.name ?? ''}
                </span>
                <span className="number text-[11px] text-faint">{nameOfKey(key, middleC)}</span>
                <PadBrowser patch={patch} at={key} name={pad ? pad.group.name : nameOfKey(key, middleC)}>
                  {(browse) =>
                    pad ? (
                      <PadMenu patch={patch} pad={pad} pads={pads} onBrowse={browse} />
                    ) : (
                      <button
                        data-quiet
                        className="button-bare h-5! min-w-5!"
                        aria-label={`Fill the pad of ${nameOfKey(key, middleC)} from the rig`}
                        title="Fill it from the rig"
                        onClick={browse}
                      >
                        <Search size={12} />
                      </button>
                    )
                  }
                </PadBrowser>
              </div>
              {pad && (
                <ul className="mt-auto flex flex-col">
                  {pad.members.slice(0, 3).map((layer) => (
                    <li
                      key={layer.id}
                      data-quiet
                      onDragOver={(event) => event.preventDefault()}
                      onDrop={(event) =>
                        void drop(
                          event,
                          { to: 'layer', patchId: patch.id, layerId: layer.id },
                          `plays in “${layer.name}”`,
                          (old, file, name) => exchangeMember(old, patch.id, layer.id, name, file.sample, newId),
                        )
                      }
                    >
                      <button
                        className="flex w-full items-center gap-1 text-[11.5px]"
                        title="Choose this member; a file dropped here takes its place"
                        onClick={() => dispatch(choosingSlice.actions.layerSelected(layer.id))}
                      >
                        <Mark mark={layer.mark} size={9} />
                        <span dir="auto" className="truncate">
                          {layer.name}
                        </span>
                      </button>
                    </li>
                  ))}
                  {pad.members.length > 3 && (
                    <li className="text-[11px] text-faint">and {pad.members.length - 3} more</li>
                  )}
                </ul>
              )}
              {pad && pad.group.choke > 0 && (
                <span
                  className="number absolute right-1.5 bottom-1 rounded border border-edge px-1 text-[10px]"
                  title={`Ended by the other pads of choke ${pad.group.choke}`}
                >
                  {pad.group.choke}
                </span>
              )}
            </div>
          );
        })}
      </div>
    </div>
  );
}

/** What opens the browser of sounds for a pad, and the browser. */
function PadBrowser({
  patch,
  at,
  name,
  children,
}: {
  patch: Patch;
  at: number;
  name: string;
  children: (browse: () => void) => ReactNode;
}) {
  const [open, setOpen] = useState(false);
  return (
    <Popover.Root open={open} onOpenChange={setOpen}>
      <Popover.Anchor aria-label={name} data-quiet className="flex">
        {children(() => setOpen(true))}
      </Popover.Anchor>
      <BrowserPanel patch={patch} at={{ to: 'pad', key: at }} onDone={() => setOpen(false)} />
    </Popover.Root>
  );
}

function PadMenu({
  patch,
  pad,
  pads,
  onBrowse,
}: {
  patch: Patch;
  pad: Pad;
  pads: readonly Pad[];
  onBrowse: () => void;
}) {
  const dispatch = useAppDispatch();
  // The browser opens when the menu has gone and would give the focus back: that would close it again.
  const browses = useRef(false);
  const closed = (event: Event) => {
    if (!browses.current) return;
    browses.current = false;
    event.preventDefault();
    onBrowse();
  };
  return (
    <DropdownMenu.Root>
      <DropdownMenu.Trigger
        data-quiet
        className="button-bare h-5! min-w-5!"
        aria-label={`More for pad ${pad.group.name}`}
      >
        <EllipsisVertical size={12} />
      </DropdownMenu.Trigger>
      <DropdownMenu.Portal>
        <DropdownMenu.Content
          align="start"
          className="panel max-h-[60vh] overflow-y-auto p-1.5!"
          onCloseAutoFocus={closed}
        >
          <DropdownMenu.Item
            className="menu-item"
            onSelect={() => {
              browses.current = true;
            }}
          >
            Fill it from the rig …
          </DropdownMenu.Item>
          <DropdownMenu.Separator className="my-1 h-px bg-line" />
          <DropdownMenu.Label className="heading px-2">Choke: ends the others of its number</DropdownMenu.Label>
          <div className="grid grid-cols-5">
            {[0, 1, 2, 3, 4].map((choke) => (
              <DropdownMenu.Item
                key={choke}
                className="menu-item justify-center"
                aria-label={choke === 0 ? 'no choke' : `choke ${choke}`}
                onSelect={() =>
                  dispatch(
                    editPatch(patch.id, (old) => updateGroup(old, pad.group.id, (group) => ({ ...group, choke }))),
                  )
                }
              >
                {choke === pad.group.choke ? <b>{choke === 0 ? '–' : choke}</b> : choke === 0 ? '–' : choke}
              </DropdownMenu.Item>
            ))}
          </div>
          <DropdownMenu.Separator className="my-1 h-px bg-line" />
          <DropdownMenu.Label className="heading px-2">Its structure, not its sounds, to</DropdownMenu.Label>
          <DropdownMenu.Item
            className="menu-item"
            disabled={pads.length < 2}
            onSelect={() =>
              dispatch(
                editPatch(patch.id, (old) =>
                  copyStructure(
                    old,
                    pad.group.id,
                    pads.map(({ group }) => group.id),
                  ),
                ),
              )
            }
          >
            all other pads
          </DropdownMenu.Item>
          {pads
            .filter((each) => each.group.id !== pad.group.id)
            .map((each) => (
              <DropdownMenu.Item
                key={each.group.id}
                className="menu-item"
                onSelect={() =>
                  dispatch(editPatch(patch.id, (old) => copyStructure(old, pad.group.id, [each.group.id])))
                }
              >
                {each.group.name}
              </DropdownMenu.Item>
            ))}
        </DropdownMenu.Content>
      </DropdownMenu.Portal>
    </DropdownMenu.Root>
  );
}
