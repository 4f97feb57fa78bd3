/** An input that can be recorded: a device of the computer, or the stand-in that ships with the application. */
export interface AudioInput {
  id: string;
  name: string;
}
export const STAND_IN_INPUT: AudioInput = { id: 'stand-in', name: 'stand-in: three knocks on a tin' };

/** What the browser gives when it is asked for any: the first time it asks the player. */
const UNNAMED_INPUT: AudioInput = { id: '', name: 'this computer’s input (the browser asks first)' };

/** The inputs there are, as far as the browser tells; names are told once the microphone was permitted. */
export async function audioInputs(): Promise<AudioInput[]> {
  const devices = (await navigator.mediaDevices?.enumerateDevices().catch(() => [])) ?? [];
  const inputs = devices.filter(({ kind }) => kind === 'audioinput');
  const named = inputs
    .filter(({ deviceId }) => deviceId !== '')
    .map(({ deviceId, label }, i) => ({ id: deviceId, name: label || `input ${i + 1}` }));
  // Before it was permitted, browsers tell that there is one, but neither which nor its name.
  return [...(named.length > 0 ? named : inputs.length > 0 ? [UNNAMED_INPUT] : []), STAND_IN_INPUT];
}

/**
 * Asks for an input, as it is: by its id, or, where that is empty, for the one that the system has chosen. The browser asks
 * the player where that was not permitted yet. Rejects in words.
 */
export async function askForInput(id = ''): Promise<MediaStream> {
  if (!navigator.mediaDevices) throw new Error('this browser gives no audio input here');
  return navigator.mediaDevices
    .getUserMedia({
      audio: {
        ...(id === '' ? {} : { deviceId: { exact: id } }),
        echoCancellation: false,
        noiseSuppression: false,
        autoGainControl: false,
      },
    })
    .catch((error: Error) => {
      const refused = 'the browser did not permit the input: allow it in its site settings';
      throw error.name === 'NotAllowedError' ? new Error(refused) : error;
    });
}

/** Nothing comes in from there any more, and nobody is told that it ended. */
export function closeInput(stream: MediaStream | null): void {
  for (const track of stream?.getTracks() ?? []) {
    track.onended = null;
    track.stop();
  }
}

/** Knocks on a tin, a third of a second apart, over and over: for trying without a microphone. */
export function standIn(context: AudioContext): AudioNode {
  const out = context.createGain();
  for (let i = 0; i < 60; i++) {
    const at = context.currentTime + 0.15 + i * 0.34;
    const tone = context.createOscillator();
    const shape = context.createGain();
    tone.frequency.value = [523, 659, 784][i % 3];
    shape.gain.setValueAtTime(0, at);
    shape.gain.linearRampToValueAtTime(0.7, at + 0.002);
    shape.gain.exponentialRampToValueAtTime(0.0005, at + 0.2);
    tone.connect(shape).connect(out);
    tone.start(at);
    tone.stop(at + 0.22);
  }
  return out;
}
