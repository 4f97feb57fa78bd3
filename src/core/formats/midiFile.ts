import { parseMidi, writeMidi, type MidiData, type MidiEvent } from 'midi-file';
import { bendOf14Bit, type PlayedEvent } from '../music/midi';
import { RegisteredReader } from '../music/registered';
import type { ChosenEvent, Take, TakeEvent } from '../music/take';
import { FileError } from './fileError';

/** A Standard MIDI File (RP-001) as a take: all tracks together, tempo changes followed. Throws a {@link FileError}. */
export function readTake(bytes: Uint8Array, name: string): Take {
  let midi: MidiData;
  try {
    midi = parseMidi(bytes);
  } catch (error) {
    throw new FileError(
      name,
      `this is not a readable MIDI file (${error instanceof Error ? error.message : String(error)})`,
    );
  }
  const { ticksPerBeat, ticksPerFrame, framesPerSecond } = midi.header;
  if (!ticksPerBeat && !(ticksPerFrame && framesPerSecond))
    throw new FileError(name, 'its header has no time division');
  const all: { tick: number; event: MidiEvent }[] = [];
  for (const track of midi.tracks) {
    let tick = 0;
    for (const event of track) all.push({ tick: (tick += event.deltaTime), event });
  }
  all.sort((a, b) => a.tick - b.tick);
  let secondsPerTick = ticksPerBeat ? 0.5 / ticksPerBeat : 1 / (ticksPerFrame! * framesPerSecond!);
  let at = 0;
  let last = 0;
  const events: TakeEvent[] = [];
  const registered = new RegisteredReader();
  const zones = { lower: 0, upper: 0, bendRange: 48 };
  for (const { tick, event } of all) {
    at += (tick - last) * secondsPerTick;
    last = tick;
    if (event.type === 'setTempo' && ticksPerBeat) secondsPerTick = event.microsecondsPerBeat / 1e6 / ticksPerBeat;
    const engineEvent = engineEventOf(event);
    const said = engineEvent?.type === 'controller' ? registered.read(engineEvent) : undefined;
    // What a controller says of its zones and of how far its fingers bend is recorded with what it plays.
    if (said?.type === 'members') zones[said.zone] = said.members;
    else if (said?.type === 'bendRange' && said.channel !== 1 && said.channel !== 16 && zones.lower + zones.upper > 0)
      zones.bendRange = Math.min(96, said.semitones);
    if (said?.type === 'members' || (said && zones.lower + zones.upper > 0))
      events.push({ at, event: { type: 'zones', ...zones } });
    if (engineEvent) events.push({ at, event: engineEvent });
  }
  return { name, seconds: at, events };
}

function engineEventOf(event: MidiEvent): PlayedEvent | ChosenEvent | undefined {
  if (!('channel' in event)) return undefined;
  const channel = event.channel + 1;
  switch (event.type) {
    case 'noteOn':
      return event.velocity === 0
        ? { type: 'noteOff', channel, key: event.noteNumber, velocity: 64 }
        : { type: 'noteOn', channel, key: event.noteNumber, velocity: event.velocity };
    case 'noteOff':
      return { type: 'noteOff', channel, key: event.noteNumber, velocity: event.velocity };
    case 'noteAftertouch':
      return { type: 'keyPressure', channel, key: event.noteNumber, pressure: event.amount };
    case 'controller':
      return { type: 'controller', channel, controller: event.controllerType, value: event.value };
    case 'channelAftertouch':
      return { type: 'channelPressure', channel, pressure: event.amount };
    case 'programChange':
      return { type: 'program', channel, program: event.programNumber };
    case 'pitchBend':
      return { type: 'bend', channel, bend: bendOf14Bit(event.value + 8192) };
    default:
      return undefined;
  }
}

/**
 * A take of notes and controllers as a Standard MIDI File of one track, 480 ticks to the quarter. `quartersPerMinute`
 * is its tempo.
 */
export function writeTake(take: Take, quartersPerMinute: number): Uint8Array {
  const ticksPerSecond = (480 * quartersPerMinute) / 60;
  const track: MidiEvent[] = [
    { deltaTime: 0, meta: true, type: 'trackName', text: take.name },
    { deltaTime: 0, meta: true, type: 'setTempo', microsecondsPerBeat: Math.round(60e6 / quartersPerMinute) },
  ];
  let last = 0;
  const push = (at: number, event: Record<string, unknown>) => {
    const tick = Math.round(at * ticksPerSecond);
    track.push({ deltaTime: tick - last, ...event } as unknown as MidiEvent);
    last = tick;
  };
  for (const { at, event } of take.events) {
    if (event.type === 'noteOn' || event.type === 'noteOff')
      push(at, { type: event.type, channel: event.channel - 1, noteNumber: event.key, velocity: event.velocity });
    else if (event.type === 'controller')
      push(at, {
        type: 'controller',
        channel: event.channel - 1,
        controllerType: event.controller,
        value: event.value,
      });
    else if (event.type === 'bend')
      push(at, {
        type: 'pitchBend',
        channel: event.channel - 1,
        value: Math.max(-8192, Math.min(8191, Math.round(event.bend * 8192))),
      });
    else if (event.type === 'program')
      push(at, { type: 'programChange', channel: event.channel - 1, programNumber: event.program });
    else if (event.type === 'channelPressure')
      push(at, { type: 'channelAftertouch', channel: event.channel - 1, amount: Math.round(event.pressure) });
  }
  push(take.seconds, { meta: true, type: 'endOfTrack' });
  return Uint8Array.from(writeMidi({ header: { format: 0, numTracks: 1, ticksPerBeat: 480 }, tracks: [track] }));
}
