import { Trash2 } from 'lucide-react';
import { useState } from 'react';
import {
  addInstrument,
  deleteInstrument,
  instrumentsUsed,
  setTold,
  updateInstrument,
} from '../../../../core/rig/edits/outside';
import type { Instrument, Patch, Rig } from '../../../../core/rig/schema';
import { STAND_IN_OUTPUT } from '../../../../core/music/outside';
import { edit, editPatch, notice, useAppDispatch, useAppSelector } from '../../../document/store';
import { NumberField } from '../../../parts/NumberField';
import { SheetFrame } from '../../../parts/Sheet';
import { TextBox } from '../../../parts/TextBox';
import { useRefresh } from '../../../parts/useLive';
import { session } from '../../../sound/session';
import { Knobs } from './Knobs';
import { Messages } from './Messages';
import { StandInPanel } from './StandInPanel';
import { LONGEST_NAME } from '../../../../core/rig/limits';

/** Instruments outside: where they are, what this patch tells them, and which of their values move. */
export function OutsideSheet({ rig, patch }: { rig: Rig; patch: Patch }) {
  useRefresh(session.outputs);
  useRefresh(session);
  const dispatch = useAppDispatch();
  const readOnly = useAppSelector((state) => state.rig.readOnly);
  const [chosen, setChosen] = useState<string | null>(null);
  const used = instrumentsUsed(patch);
  const instrument =
    rig.instruments.find(({ id }) => id === chosen) ??
    rig.instruments.find(({ id }) => used.includes(id)) ??
    rig.instruments[0];
  const add = () => {
    dispatch(
      edit((old) => {
        const made = addInstrument(old, 'Outside', session.outputs.likeliest);
        if (made) setChosen(made.id);
        else dispatch(notice('problem', 'There is no room for another instrument outside.', 'outside'));
        return made?.rig ?? old;
      }),
    );
  };
  return (
    <SheetFrame title="Instruments outside" wide="very">
      <fieldset disabled={readOnly} className="flex min-w-0 gap-4 max-[700px]:flex-col">
        <nav aria-label="Instruments" className="flex w-52 shrink-0 flex-col gap-1 max-[700px]:w-full">
          {rig.instruments.map((each) => (
            <button
              key={each.id}
              className="button flex-col items-start! py-1.5! text-left"
              aria-pressed={each === instrument}
              onClick={() => setChosen(each.id)}
            >
              <span dir="auto" className="w-full truncate font-bold">
                {each.name}
              </span>
              <span className={`w-full truncate text-[12px] ${isThere(each) ? 'opacity-70' : 'text-alarm'}`}>
                {whereOf(each)}
              </span>
            </button>
          ))}
          <button className="button justify-center" onClick={add}>
            + instrument
          </button>
          <p className="text-[12px] text-faint">
            A layer plays one of these when its notes go there: part “notes” of the layer, in Layers.
          </p>
        </nav>
        <div className="min-w-0 flex-1">
          {instrument ? (
            <Chosen key={instrument.id} instrument={instrument} patch={patch} />
          ) : (
            <p className="text-faint">
              A rack, a module, another computer: anything that plays what it is sent by MIDI. It is told its program
              when a patch is entered, plays the notes of the layers that go there, and its values move with macros,
              pads and movers.
            </p>
          )}
        </div>
      </fieldset>
      {rig.instruments.some(({ output }) => output === STAND_IN_OUTPUT) && <StandInPanel />}
    </SheetFrame>
  );
}

const isThere = ({ output }: Instrument): boolean => session.outputs.has(output);
const whereOf = (instrument: Instrument): string =>
  instrument.output === ''
    ? 'no output chosen'
    : `${instrument.output}, channel ${instrument.channel}${isThere(instrument) ? '' : ': not there'}`;

function Chosen({ instrument, patch }: { instrument: Instrument; patch: Patch }) {
  const dispatch = useAppDispatch();
  const { id } = instrument;
  const told = patch.told.find((each) => each.id === id);
  const set = (change: Partial<Omit<Instrument, 'id'>>) => dispatch(edit((rig) => updateInstrument(rig, id, change)));
  const problems = session.outside.told.filter((each) => each.instrument === instrument.name && each.problem !== '');
  return (
    <div className="flex flex-col gap-3">
      <div className="grid grid-cols-[minmax(0,1fr)_minmax(0,1fr)_92px_28px] gap-2">
        <TextBox
          label="Name of the instrument"
          text={instrument.name}
          longest={LONGEST_NAME}
          onChange={(name) => set({ name })}
        />
        <OutputChoice instrument={instrument} onChange={(output) => set({ output })} />
        <NumberField
          label="channel"
          value={instrument.channel}
          low={1}
          high={16}
          onChange={(channel) => set({ channel })}
        />
        <button
          className="button-bare"
          aria-label={`Remove ${instrument.name}`}
          title="Remove it from the rig; layers that play it play their sound again"
          onClick={() => dispatch(edit((rig) => deleteInstrument(rig, id)))}
        >
          <Trash2 size={15} />
        </button>
      </div>
      <div className="flex flex-wrap items-center gap-x-4 gap-y-1">
        <label className="flex items-center gap-1.5">
          <input
            type="checkbox"
            checked={instrument.clock}
            onChange={(event) => set({ clock: event.target.checked })}
          />
          follows the tempo (MIDI clock)
        </label>
        <label
          className="flex items-center gap-1.5"
          title="Check says so where a patch plays it and does not tell it a program"
        >
          <input type="checkbox" checked={instrument.asks} onChange={(event) => set({ asks: event.target.checked })} />
          wants a program from every patch
        </label>
        <span className="flex-1" />
        <button className="button" onClick={() => session.outside.tellAgain(id)}>
          Tell it now
        </button>
      </div>
      {problems.length > 0 && (
        <p role="status" className="text-[12.5px] text-alarm">
          {problems[0].words} was not told: {problems[0].problem}.{' '}
          {problems.some(({ problem }) => problem.startsWith('system')) && (
            <button
              className="button px-2! py-0!"
              onClick={() => void askForExclusive(id, (text) => dispatch(notice('problem', text, 'exclusive')))}
            >
              Ask the browser for system exclusive
            </button>
          )}
        </p>
      )}
      {(['enter', 'leave'] as const).map((when) => (
        <Messages
          key={when}
          when={when}
          patchName={patch.name}
          messages={told?.[when] ?? []}
          onChange={(messages) => dispatch(editPatch(patch.id, (old) => setTold(old, id, when, messages)))}
        />
      ))}
      <Knobs instrument={instrument} patch={patch} />
    </div>
  );
}

async function askForExclusive(instrumentId: string, refused: (text: string) => void): Promise<void> {
  await session.midi.open(true);
  if (session.midi.exclusive) session.outside.tellAgain(instrumentId);
  else refused('The browser did not permit system exclusive: those messages are left out, all others go.');
}

function OutputChoice({ instrument, onChange }: { instrument: Instrument; onChange: (output: string) => void }) {
  const { names } = session.outputs;
  const { output } = instrument;
  return (
    <select
      className="field min-w-0"
      aria-label="MIDI output"
      value={output}
      onChange={(event) => onChange(event.target.value)}
    >
      <option value="">no output yet</option>
      {[...new Set([...names, ...(output ? [output] : [])])].map((name) => (
        <option key={name} value={name}>
          {name}
          {names.includes(name) ? '' : ' (not there)'}
        </option>
      ))}
    </select>
  );
}
