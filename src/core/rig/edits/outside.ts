import { newInstrument } from '../defaults';
import { withoutLoose } from '../mix';
import { freeId, freeName, heldName } from '../names';
import type { Instrument, Knob, Layer, Message, Patch, PatchContent, Rig } from '../schema';
import { updateLayer } from './layers';
import { MOST_INSTRUMENTS, MOST_KNOBS, MOST_MESSAGES } from '../limits';

/** Edits of instruments outside: pure functions. An unknown id leaves everything as it is. */

/** The instruments that a patch plays, tells or moves. */
export const instrumentsUsed = ({ layers, told, knobs }: PatchContent): string[] => [
  ...new Set([
    ...layers.flatMap(({ path }) => (path.instrument === null ? [] : [path.instrument])),
    ...told.map(({ id }) => id),
    ...knobs.map(({ instrumentId }) => instrumentId),
  ]),
];

/** A patch whose instruments have other ids; where there is none for one, its layers play their sound again. */
export function withInstruments<P extends PatchContent>(patch: P, idOf: ReadonlyMap<string, string>): P {
  if (instrumentsUsed(patch).every((id) => idOf.get(id) === id)) return patch;
  const next = {
    ...patch,
    layers: patch.layers.map((layer): Layer => {
      const { path } = layer;
      const other = path.instrument === null ? null : (idOf.get(path.instrument) ?? null);
      if (other === path.instrument) return layer;
      return { ...layer, path: { ...path, instrument: other } };
    }),
    told: patch.told.flatMap((each) => {
      const id = idOf.get(each.id);
      return id === undefined ? [] : [{ ...each, id }];
    }),
    knobs: patch.knobs.flatMap((knob) => {
      const instrumentId = idOf.get(knob.instrumentId);
      return instrumentId === undefined ? [] : [{ ...knob, instrumentId }];
    }),
  };
  return withoutLoose(next);
}

/**
 * Instruments of another rig among those of this one. One that is the same there (its output and its channel) is that
 * one; where there is no room for another, it has no id here.
 */
export function bringInstruments(
  { instruments }: Rig,
  wanted: readonly Instrument[] | undefined,
  newId: () => string,
): { instruments: readonly Instrument[]; idOf: ReadonlyMap<string, string> } {
  const all = [...instruments];
  const idOf = new Map<string, string>();
  for (const each of wanted ?? []) {
    const there = all.find(
      ({ id, output, channel, name }) =>
        output === each.output && channel === each.channel && (output !== '' || id === each.id || name === each.name),
    );
    if (there) idOf.set(each.id, there.id);
    else if (all.length < MOST_INSTRUMENTS) {
      const id = all.some((other) => other.id === each.id) ? newId() : each.id;
      all.push({ ...each, id, name: freeName(each.name, all) });
      idOf.set(each.id, id);
    }
  }
  return { instruments: all.length === instruments.length ? instruments : all, idOf };
}

/** An instrument more, and its id; undefined where there is no room for it. */
export function addInstrument(rig: Rig, name: string, output = ''): { rig: Rig; id: string } | undefined {
  if (rig.instruments.length >= MOST_INSTRUMENTS) return undefined;
  const id = freeId('outside', rig.instruments);
  const made = { ...newInstrument(id, freeName(heldName(name) || 'Outside', rig.instruments)), output };
  return { rig: { ...rig, instruments: [...rig.instruments, made] }, id };
}

export const updateInstrument = (rig: Rig, id: string, change: Partial<Omit<Instrument, 'id'>>): Rig => ({
  ...rig,
  instruments: rig.instruments.map((each) =>
    each.id === id ? { ...each, ...change, name: heldName(change.name ?? '') || each.name } : each,
  ),
});

/** Takes an instrument away, in every patch and version: layers that played it play their sound again. */
export function deleteInstrument(rig: Rig, id: string): Rig {
  const left = rig.instruments.filter((each) => each.id !== id);
  const idOf = new Map(left.map((each) => [each.id, each.id]));
  return {
    ...rig,
    instruments: left,
    patches: rig.patches.map((patch) => {
      const content = withInstruments(patch, idOf);
      const versions = patch.versions.map((version) => {
        const inside = withInstruments(version.patch, idOf);
        return inside === version.patch ? version : { ...version, patch: inside };
      });
      return versions.every((version, i) => version === patch.versions[i]) ? content : { ...content, versions };
    }),
  };
}

/** What an instrument is told at a time; messages beyond the most are left out. One that is told nothing is not named. */
export function setTold(patch: Patch, id: string, when: 'enter' | 'leave', messages: readonly Message[]): Patch {
  const known = patch.told.find((each) => each.id === id) ?? { id, enter: [], leave: [] };
  const next = { ...known, [when]: messages.slice(0, MOST_MESSAGES) };
  const others = patch.told.filter((each) => each.id !== id);
  return { ...patch, told: next.enter.length + next.leave.length === 0 ? others : [...others, next] };
}

/** A value of an instrument that can be moved; undefined where there is no room for another. */
export function addKnob(
  patch: Patch,
  instrument: Instrument,
  controller: number,
  name = `CC ${controller} of ${instrument.name}`,
): { patch: Patch; id: string } | undefined {
  if (patch.knobs.length >= MOST_KNOBS) return undefined;
  const id = freeId('knob', patch.knobs);
  const knob: Knob = {
    id,
    instrumentId: instrument.id,
    name: freeName(heldName(name), patch.knobs),
    controller,
    value: 64,
  };
  return { patch: { ...patch, knobs: [...patch.knobs, knob] }, id };
}

export const updateKnob = (patch: Patch, id: string, change: Partial<Omit<Knob, 'id' | 'instrumentId'>>): Patch => ({
  ...patch,
  knobs: patch.knobs.map((knob) =>
    knob.id === id ? { ...knob, ...change, name: heldName(change.name ?? '') || knob.name } : knob,
  ),
});

export const deleteKnob = (patch: Patch, id: string): Patch =>
  withoutLoose({ ...patch, knobs: patch.knobs.filter((knob) => knob.id !== id) });

/** The instrument that a layer plays instead of its sound; null: its sound. */
export const setInstrument = (patch: Patch, layerId: string, instrument: string | null): Patch =>
  updateLayer(patch, layerId, (layer) => ({ ...layer, path: { ...layer.path, instrument } }));
