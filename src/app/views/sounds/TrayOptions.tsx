import { useState, type ReactNode } from 'react';
import { FOLDER_MEANINGS, type FolderMeaning } from '../../../core/mapping/folders';
import type { Layout, Plan } from '../../../core/mapping/planModel';
import { STRETCHES, type Stretch } from '../../../core/mapping/stretch';
import { parseRanges } from '../../../core/mapping/velocities';
import { nameOfKey, parseKey } from '../../../core/music/noteNames';
import type { Sound } from '../../../core/rig/schema';
import { NumberField } from '../../parts/NumberField';
import { TypedField } from '../../parts/TypedField';
import { useAppSelector } from '../../document/store';
import { tray } from '../../jobs/tray';

/** Where the zones of the plan go. */
export interface TrayTarget {
  into: 'new' | 'present';
  asLayer: boolean;
  dynamicsApart: boolean;
  oneList: boolean;
  listLayers: number;
}

const LAYOUT_WORDS: Record<Layout, [title: string, help: string]> = {
  names: ['by name', 'Keys, dynamics and alternates as the names tell them'],
  run: ['one after another', 'One file for each key in order, from a first key'],
  'one-key': ['all on one key', 'A drum pad: full length, velocities shared out, alternates together'],
  effects: ['effects on keys', 'One for each key, always at its own pitch, the same at every velocity'],
  kit: ['pads of a kit', 'Each drum that folders or names tell of on its key, dynamics and alternates inside'],
  pitch: ['by pitch', 'Each where it is heard to be; unclear ones stay out'],
};
const FOLDER_WORDS: Record<FolderMeaning, string> = {
  dynamics: 'dynamics',
  alternates: 'alternates',
  pads: 'pads of a kit',
  sounds: 'separate sounds',
  nothing: 'of no meaning',
};
const STRETCH_WORDS: Record<Stretch, string> = {
  none: 'their roots alone',
  nearest: 'to the nearest root',
  up: 'up to the next root',
  down: 'down to the one before',
};

/** Which file goes to which keys. */
function LaidOut() {
  const { options } = tray;
  const controllers = useAppSelector((state) => state.rig.rig!.controllers);
  const choose = (layout: Layout) =>
    tray.setOptions({
      layout,
      ...(layout === 'effects' && options.layout !== 'effects'
        ? { from: controllers.keyLow }
        : layout === 'kit'
          ? { from: 36 }
          : layout === 'one-key' || layout === 'run'
            ? { from: options.layout === 'effects' ? 60 : options.from }
            : {}),
    });
  return (
    <Group title="Laid out">
      <div role="radiogroup" aria-label="Laid out" className="flex flex-col">
        {(Object.keys(LAYOUT_WORDS) as Layout[]).map((layout) => (
          <label key={layout} className="flex items-center gap-2 py-0.5" title={LAYOUT_WORDS[layout][1]}>
            <input type="radio" name="layout" checked={options.layout === layout} onChange={() => choose(layout)} />{' '}
            {LAYOUT_WORDS[layout][0]}
          </label>
        ))}
      </div>
      <p className="text-[11.5px] text-faint">{LAYOUT_WORDS[options.layout][1]}.</p>
      {options.layout !== 'names' && options.layout !== 'pitch' && (
        <KeyField
          label={options.layout === 'one-key' ? 'on key' : options.layout === 'kit' ? 'others from key' : 'from key'}
        />
      )}
      {options.layout === 'run' && (
        <Choice
          label="every"
          value={String(options.step)}
          options={[
            ['1', 'key'],
            ['white', 'white key'],
            ['2', '2 semitones'],
            ['3', '3 semitones'],
            ['4', '4 semitones'],
            ['6', '6 semitones'],
            ['12', 'octave'],
          ]}
          onChange={(step) => tray.setOptions({ step: step === 'white' ? 'white' : Number(step) })}
        />
      )}
      {options.layout === 'pitch' && (
        <NumberField
          label="clear from"
          unit=" %"
          value={Math.round(options.leastClarity * 100)}
          low={0}
          high={100}
          onChange={(value) => tray.setOptions({ leastClarity: value / 100 })}
        />
      )}
    </Group>
  );
}

/** In which order dynamics stand, and where one ends and the next begins. */
function Dynamics({
  count,
  target,
  onTarget,
}: {
  count: number;
  target: TrayTarget;
  onTarget: (target: TrayTarget) => void;
}) {
  const { options } = tray;
  return (
    <Group title={`${count} dynamics, soft to hard`}>
      <Choice
        label="in the order of"
        value={options.order}
        options={[
          ['names', 'their names'],
          ['level', 'their levels'],
        ]}
        onChange={(order) => tray.setOptions({ order: order as 'names' | 'level' })}
      />
      <RangesField />
      <NumberField
        label="soft edge"
        value={options.softEdge}
        low={0}
        high={60}
        onChange={(softEdge) => tray.setOptions({ softEdge })}
      />
      {target.into === 'new' && (
        <label className="flex items-center gap-2 text-[12px]">
          <input
            type="checkbox"
            checked={target.dynamicsApart}
            onChange={(event) => onTarget({ ...target, dynamicsApart: event.target.checked })}
          />{' '}
          a layer for each dynamic
        </label>
      )}
    </Group>
  );
}

/** How the files are laid out, and where they go. */
export function TrayOptions({
  plan,
  target,
  onTarget,
  sound,
  whole,
}: {
  plan: Plan | null;
  target: TrayTarget;
  onTarget: (target: TrayTarget) => void;
  sound: Sound | undefined;
  whole: boolean;
}) {
  const { options } = tray;
  const keyed = options.layout === 'names' || options.layout === 'run' || options.layout === 'pitch';
  return (
    <aside
      aria-label="How it is laid out"
      tabIndex={0}
      className="flex min-h-0 flex-col gap-3 overflow-y-auto border-r border-line p-3 [scrollbar-width:thin]"
    >
      <div>
        <h2 className="text-[15px] font-bold">Bring in</h2>
        <p className="text-[12px] text-faint">Nothing in the rig changes until you place it.</p>
      </div>
      {!whole && (
        <>
          <LaidOut />
          {plan?.folders || options.folders !== 'auto' ? (
            <Group title="Folders">
              <Choice
                label="they are"
                value={options.folders}
                options={[
                  ['auto', `${plan?.folders ? FOLDER_WORDS[plan.folders.meaning] : 'as guessed'} (guessed)`],
                  ...FOLDER_MEANINGS.map((meaning) => [meaning, FOLDER_WORDS[meaning]] as const),
                ]}
                onChange={(folders) => tray.setOptions({ folders: folders as FolderMeaning | 'auto' })}
              />
            </Group>
          ) : null}
          {keyed && (
            <Group title="Keys between roots">
              <Choice
                label="they reach"
                value={options.stretch}
                options={STRETCHES.map((stretch) => [stretch, STRETCH_WORDS[stretch]] as const)}
                onChange={(stretch) => tray.setOptions({ stretch: stretch as Stretch })}
              />
            </Group>
          )}
          {options.layout !== 'kit' && plan && plan.dynamics.length > 1 && (
            <Dynamics count={plan.dynamics.length} target={target} onTarget={onTarget} />
          )}
        </>
      )}
      <Group title="Goes to">
        {!whole && (
          <Choice
            label="zones of"
            value={target.into}
            options={[['new', 'a new sound'], ...(sound ? [['present', sound.name] as const] : [])]}
            onChange={(into) => {
              if (into === 'present') tray.setOptions({ list: false });
              onTarget({ ...target, into: into as TrayTarget['into'], oneList: into === 'new' && target.oneList });
            }}
          />
        )}
        {!whole && target.into === 'new' && <CalledField />}
        {target.into === 'new' && (
          <label className="flex items-center gap-2 text-[12px]">
            <input
              type="checkbox"
              checked={target.asLayer}
              onChange={(event) => onTarget({ ...target, asLayer: event.target.checked })}
            />{' '}
            and {whole && tray.sounds.filter(({ wanted }) => wanted).length !== 1 ? 'layers' : 'a layer'} of this patch
          </label>
        )}
        {target.into === 'new' && !whole && (
          <label
            className="flex items-center gap-2 text-[12px]"
            title="Each sound, or each file, is one of a list; the layer’s choice says which of them plays"
          >
            <input
              type="checkbox"
              checked={target.oneList}
              onChange={(event) => {
                tray.setOptions({ list: event.target.checked });
                onTarget({ ...target, oneList: event.target.checked, asLayer: event.target.checked || target.asLayer });
              }}
            />{' '}
            sounds to choose from, in one layer
          </label>
        )}
        {target.into === 'new' && !whole && target.oneList && (
          <NumberField
            label="layers that choose from it"
            value={target.listLayers}
            low={1}
            high={8}
            onChange={(listLayers) => onTarget({ ...target, listLayers })}
          />
        )}
      </Group>
    </aside>
  );
}

const Group = ({ title, children }: { title: string; children: ReactNode }) => (
  <section aria-label={title} className="flex flex-col gap-1.5">
    <h3 className="heading">{title}</h3>
    {children}
  </section>
);

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
  <label className="flex items-center justify-between gap-2">
    <span className="text-[12px] whitespace-nowrap text-faint">{label}</span>
    <select className="field min-w-0 flex-1" value={value} onChange={(event) => onChange(event.target.value)}>
      {options.map(([id, name]) => (
        <option key={id} value={id}>
          {name}
        </option>
      ))}
    </select>
  </label>
);

function KeyField({ label }: { label: string }) {
  const middleC = useAppSelector((state) => state.settings.middleC);
  const { from } = tray.options;
  return (
    <TypedField
      label={label}
      text={`${nameOfKey(from, middleC)} (${from})`}
      step={(by) => tray.setOptions({ from: Math.min(127, Math.max(0, from + by)) })}
      commit={(typed) => {
        const key = parseKey(typed.replace(/\s*\(.*\)$/, ''), middleC);
        if (key === undefined) return 'a key such as E3, or a number from 0 to 127';
        tray.setOptions({ from: key });
        return undefined;
      }}
    />
  );
}

function RangesField() {
  const [text, setText] = useState('');
  return (
    <div title="Evenly, or typed such as 1–39, 40–79, 80–127">
      <TypedField
        label="velocities"
        text={text || 'shared out evenly'}
        commit={(typed) => {
          if (typed.trim() === '' || /even/.test(typed)) {
            setText('');
            tray.setOptions({ ranges: null });
            return undefined;
          }
          const ranges = parseRanges(typed);
          if (typeof ranges === 'string') return ranges;
          setText(typed.trim());
          tray.setOptions({ ranges });
          return undefined;
        }}
      />
    </div>
  );
}

function CalledField() {
  return (
    <TypedField
      label="called"
      text={tray.name || 'New sound'}
      commit={(typed) => {
        if (typed.trim() === '') return 'a name';
        tray.setName(typed.trim().slice(0, 200));
        return undefined;
      }}
    />
  );
}
