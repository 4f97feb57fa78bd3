import { updateLayer } from '../../../../core/rig/edits/layers';
import type { Layer, Patch, Receive } from '../../../../core/rig/schema';
import { Part, Row } from '../../../parts/Part';
import { editPatch, useAppDispatch, useAppSelector } from '../../../document/store';
import { deskSlice } from '../../../hands/deskSlice';
import type { StripOf } from './strips';

/** What a layer may hear or not, with what it means. */
export const HEARS = [
  ['bend', 'bend', 'The bend wheel moves its pitch'],
  ['sustain', 'sustain', 'The sustain pedal holds its notes'],
  ['sostenuto', 'sostenuto', 'The sostenuto pedal holds the notes that are down when it goes down'],
  ['wheel', 'wheel', 'The modulation wheel moves what routes and windows have on it'],
  ['pressure', 'aftertouch', 'Channel and poly aftertouch'],
  ['expression', 'volume', 'Volume (CC 7) and expression (CC 11)'],
  ['program', 'program', 'A program change picks a sound of its list'],
  ['song', 'transposition', 'Goes along when a song of the setlist is transposed for the singer'],
] as const satisfies readonly (readonly [keyof Receive, string, string])[];

export function HearsTab({ patch, layer, strip }: { patch: Patch; layer: Layer; strip: StripOf }) {
  const dispatch = useAppDispatch();
  const { ports } = useAppSelector((state) => state.rig.rig!.controllers);
  const put = (receive: Partial<Receive>) =>
    dispatch(
      editPatch(patch.id, (old) =>
        updateLayer(old, layer.id, (each) => ({ ...each, receive: { ...each.receive, ...receive } })),
      ),
    );
  return (
    <Part title="Hears">
      <Row label="MIDI port">
        <select
          className="field min-w-0"
          value={layer.receive.port}
          onChange={(event) => put({ port: event.target.value })}
        >
          <option value="any">any</option>
          {[...new Set([...ports, ...(layer.receive.port === 'any' ? [] : [layer.receive.port])])].map((name) => (
            <option key={name} value={name}>
              {name}
              {ports.includes(name) ? '' : ' (unknown)'}
            </option>
          ))}
        </select>
      </Row>
      <Row label="MIDI channel">
        <select
          className="field"
          value={String(layer.receive.channel)}
          onChange={(event) => put({ channel: event.target.value === 'any' ? 'any' : Number(event.target.value) })}
        >
          <option value="any">any</option>
          {Array.from({ length: 16 }, (_, i) => (
            <option key={i} value={i + 1}>
              {i + 1}
            </option>
          ))}
        </select>
      </Row>
      <div className="flex flex-wrap gap-1">
        {HEARS.map(([key, label, title]) => (
          <button
            key={key}
            title={title}
            className="button px-2! py-0.5! text-[12px]"
            aria-pressed={layer.receive[key]}
            onClick={() => put({ [key]: !layer.receive[key] })}
          >
            {label}
          </button>
        ))}
      </div>
      {strip('bendRange')}
      <button className="button self-start" onClick={() => dispatch(deskSlice.actions.sheetOpened('receives'))}>
        all layers in a table …
      </button>
    </Part>
  );
}
