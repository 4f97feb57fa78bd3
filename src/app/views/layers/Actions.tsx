import { ArrowDownUp } from 'lucide-react';
import { Popover } from 'radix-ui';
import { useEffect, useRef, useState, type ReactNode } from 'react';
import { nameOfKey, parseKey } from '../../../core/music/noteNames';
import { bringIn, crossfadeByVelocity, splitLayersAt, twoLayers } from '../../../core/rig/edits/windows';
import type { Patch } from '../../../core/rig/schema';
import { labelOfSource, parseSource } from '../../../core/space/source';
import { session } from '../../sound/session';
import { groupLayers } from '../../../core/rig/edits/groups';
import { editPatch, newId, useAppDispatch, useAppSelector } from '../../document/store';
import { choosingSlice } from '../../hands/choosingSlice';
import { openDraws } from '../desk/DrawsSheet';
import { TypedField } from '../../parts/TypedField';
import { useStore } from '../../parts/useLive';

/** What is done most often, each a single step: split, crossfade, bring in. */
export function Actions({ patch }: { patch: Patch }) {
  const two = patch.layers.length >= 2;
  return (
    <>
      <GroupAction patch={patch} />
      <button className="button" disabled={patch.layers.length === 0} onClick={openDraws}>
        Chance …
      </button>
      <Action name="Split here" disabled={!two}>
        {(close) => <SplitForm patch={patch} onDone={close} />}
      </Action>
      <Action name="Crossfade by velocity" disabled={!two}>
        {(close) => <VelocityForm patch={patch} onDone={close} />}
      </Action>
      <Action name="Bring in with …" disabled={patch.layers.length === 0}>
        {(close) => <BringInForm patch={patch} onDone={close} />}
      </Action>
    </>
  );
}

/** Gathers the chosen layers in a group. */
function GroupAction({ patch }: { patch: Patch }) {
  const dispatch = useAppDispatch();
  const chosen = useAppSelector((state) => state.choosing.chosenLayerIds).filter((id) =>
    patch.layers.some((layer) => layer.id === id),
  );
  if (chosen.length < 2) return null;
  return (
    <button
      className="button"
      onClick={() => {
        const id = newId();
        dispatch(editPatch(patch.id, (old) => groupLayers(old, chosen, id, `Group ${old.groups.length + 1}`)));
        dispatch(choosingSlice.actions.groupSelected(id));
      }}
    >
      Group {chosen.length} layers
    </button>
  );
}

function Action({
  name,
  disabled,
  children,
}: {
  name: string;
  disabled: boolean;
  children: (close: () => void) => ReactNode;
}) {
  const [open, setOpen] = useState(false);
  return (
    <Popover.Root open={open} onOpenChange={setOpen}>
      <Popover.Trigger className="button" disabled={disabled}>
        {name}
      </Popover.Trigger>
      <Popover.Portal>
        {/* Keys on screen are played, and chosen, while the form is open. */}
        <Popover.Content
          side="top"
          align="end"
          sideOffset={128}
          collisionPadding={8}
          className="panel w-72"
          aria-label={name}
          onInteractOutside={(event) => {
            if (
              (event.target as HTMLElement).closest(
                '[data-testid="keyboard"], [aria-label="Stand-in controllers"], [data-testid="field"]',
              )
            )
              event.preventDefault();
          }}
        >
          <h2 className="mb-2 text-[14px] font-bold">{name}</h2>
          {children(() => setOpen(false))}
        </Popover.Content>
      </Popover.Portal>
    </Popover.Root>
  );
}

const Choice = ({
  label,
  value,
  options,
  onChange,
}: {
  label: string;
  value: string;
  options: readonly (readonly [string, string])[];
  onChange: (value: string) => void;
}) => (
  <label className="flex items-center justify-between gap-3">
    <span>{label}</span>
    <select className="field w-40" value={value} onChange={(event) => onChange(event.target.value)}>
      {options.map(([id, name]) => (
        <option key={id} value={id}>
          {name}
        </option>
      ))}
    </select>
  </label>
);

const Buttons = ({ problem }: { problem?: string }) => (
  <div className="flex items-center justify-between gap-2">
    <span role="alert" className="text-[12px] text-alarm">
      {problem}
    </span>
    <button type="submit" className="button bg-ink! text-paper!" disabled={!!problem}>
      Apply
    </button>
  </div>
);

/** Enter applies, from whichever field; what is wrong in a field is told there first. */
const ActionForm = ({ onApply, children }: { onApply: () => void; children: ReactNode }) => (
  <form
    className="flex flex-col gap-2.5"
    onSubmit={(event) => {
      event.preventDefault();
      onApply();
    }}
  >
    {children}
  </form>
);

const layerOptions = (patch: Patch) => patch.layers.map((layer) => [layer.id, layer.name] as const);

/** The key struck last on this patch is where "here" is; without one, the F sharp below middle C. */
const hereKey = (patch: Patch): number => session.hands.strikes.filter(({ on }) => on === patch.id).at(-1)?.key ?? 54;

/** Exchanges what stands in two choices. */
const Exchange = ({ onExchange }: { onExchange: () => void }) => (
  <button
    type="button"
    className="button justify-center self-end px-2! py-0!"
    title="Exchange the two"
    onClick={onExchange}
  >
    <ArrowDownUp size={13} /> exchange
  </button>
);

function SplitForm({ patch, onDone }: { patch: Patch; onDone: () => void }) {
  const dispatch = useAppDispatch();
  const middleC = useAppSelector((state) => state.settings.middleC);
  const { selectedLayerId, chosenLayerIds } = useAppSelector((state) => state.choosing);
  const [begin] = useState(() => twoLayers(patch, selectedLayerId, chosenLayerIds));
  const [lower, setLower] = useState(begin[0]);
  const [upper, setUpper] = useState(begin[1]);
  const [key, setKey] = useState(() => hereKey(patch));
  const [fade, setFade] = useState(0);
  // A key that is played while the form is open is the one that is meant.
  const struck = useStore(session.hands, (hands) => hands.strikes[hands.strikes.length - 1]);
  const first = useRef(struck);
  useEffect(() => {
    if (struck && struck !== first.current && struck.on === patch.id && struck.key > 0) setKey(struck.key);
  }, [struck, patch.id]);
  const apply = () => {
    if (lower === upper) return;
    dispatch(editPatch(patch.id, (old) => splitLayersAt(old, lower, upper, key, fade)));
    onDone();
  };
  return (
    <ActionForm onApply={apply}>
      <Choice label="below" value={lower} options={layerOptions(patch)} onChange={setLower} />
      <Choice label="above" value={upper} options={layerOptions(patch)} onChange={setUpper} />
      <Exchange
        onExchange={() => {
          setLower(upper);
          setUpper(lower);
        }}
      />
      <TypedField
        label="first key of the upper one"
        text={nameOfKey(key, middleC)}
        step={(by) => setKey((old) => Math.min(127, Math.max(1, old + by)))}
        commit={(typed) => {
          const read = parseKey(typed, middleC);
          if (read === undefined || read < 1) return 'a key such as E3, or a number from 1 to 127';
          setKey(read);
          return undefined;
        }}
      />
      <TypedField
        label="keys that sound both"
        text={String(fade)}
        step={(by) => setFade((old) => Math.min(100, Math.max(0, old + by)))}
        commit={(typed) => {
          const read = Number(typed);
          if (typed.trim() === '' || !Number.isInteger(read) || read < 0 || read > 100)
            return 'a whole number from 0 to 100';
          setFade(read);
          return undefined;
        }}
      />
      <p className="text-[12px] text-faint">
        A key that you play is taken.{' '}
        {fade === 0
          ? 'A hard border: no key is silent, none sounds both.'
          : 'A crossfade of constant power around the border.'}
      </p>
      <Buttons problem={lower === upper ? 'choose two layers' : undefined} />
    </ActionForm>
  );
}

function VelocityForm({ patch, onDone }: { patch: Patch; onDone: () => void }) {
  const dispatch = useAppDispatch();
  const { selectedLayerId, chosenLayerIds } = useAppSelector((state) => state.choosing);
  const [begin] = useState(() => twoLayers(patch, selectedLayerId, chosenLayerIds));
  const [soft, setSoft] = useState(begin[0]);
  const [hard, setHard] = useState(begin[1]);
  const [middle, setMiddle] = useState(80);
  const [fade, setFade] = useState(40);
  const apply = () => {
    if (soft === hard) return;
    dispatch(editPatch(patch.id, (old) => crossfadeByVelocity(old, soft, hard, middle, fade)));
    onDone();
  };
  const number = (label: string, value: number, low: number, high: number, set: (value: number) => void) => (
    <TypedField
      label={label}
      text={String(value)}
      step={(by) => set(Math.min(high, Math.max(low, value + by)))}
      commit={(typed) => {
        const read = Number(typed);
        if (typed.trim() === '' || !Number.isInteger(read) || read < low || read > high)
          return `a whole number from ${low} to ${high}`;
        set(read);
        return undefined;
      }}
    />
  );
  return (
    <ActionForm onApply={apply}>
      <Choice label="soft" value={soft} options={layerOptions(patch)} onChange={setSoft} />
      <Choice label="hard" value={hard} options={layerOptions(patch)} onChange={setHard} />
      <Exchange
        onExchange={() => {
          setSoft(hard);
          setHard(soft);
        }}
      />
      {number('around velocity', middle, 2, 126, setMiddle)}
      {number('over', fade, 0, 126, setFade)}
      <Buttons problem={soft === hard ? 'choose two layers' : undefined} />
    </ActionForm>
  );
}

function BringInForm({ patch, onDone }: { patch: Patch; onDone: () => void }) {
  const dispatch = useAppDispatch();
  const selected = useAppSelector((state) => state.choosing.selectedLayerId);
  const [layer, setLayer] = useState(
    patch.layers.find((candidate) => candidate.id === selected)?.id ?? patch.layers[patch.layers.length - 1].id,
  );
  const [source, setSource] = useState('cc.1');
  const free = Array.from({ length: 16 }, (_, i) => i + 1).find(
    (n) => !patch.macros.some((macro) => macro.number === n),
  );
  const sources = [
    ['cc.1', 'wheel (CC 1)'],
    ['cc.11', 'expression (CC 11)'],
    ['channelPressure', 'aftertouch'],
    ...patch.macros.map((macro) => [`macro.${macro.number}`, `macro ${macro.number} ${macro.name}`] as const),
    ...(free ? [[`macro.${free}`, `a new macro (${free})`] as const] : []),
  ] as const;
  const apply = () => {
    const { low, high } = parseSource(source)!;
    const name = patch.layers.find((candidate) => candidate.id === layer)!.name;
    dispatch(
      editPatch(patch.id, (old) => {
        const number = Number(source.split('.')[1]);
        const isNew = source.startsWith('macro.') && !old.macros.some((macro) => macro.number === number);
        const macros = isNew ? [...old.macros, { number, name, value: 0, style: 'strip' as const }] : old.macros;
        return bringIn({ ...old, macros }, layer, source, low, high - low);
      }),
    );
    onDone();
  };
  return (
    <ActionForm onApply={apply}>
      <Choice label="layer" value={layer} options={layerOptions(patch)} onChange={setLayer} />
      <Choice label="with" value={source} options={sources} onChange={setSource} />
      <p className="text-[12px] text-faint">
        Silent with {labelOfSource(source)} at rest, full at its end. The layer’s window on it can be narrowed
        afterwards.
      </p>
      <Buttons />
    </ActionForm>
  );
}
