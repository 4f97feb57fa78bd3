import { CODE } from '../core/dsp/kernel/code';

/** What a browser, or the address of the page, lacks for the application to run at all; undefined where nothing is. */
export function whatIsMissing(): string | undefined {
  if (!isSecureContext)
    return `Browsers give sound, MIDI and storage only to pages from this machine itself or from https addresses, and ${location.origin} is neither. Open the application as http://localhost on the machine that serves it, or serve it through https.`;
  if (!('AudioWorkletNode' in globalThis))
    return 'This browser has no audio worklets, in which the sound is made. Any browser of the last years has them.';
  if (!WebAssembly.validate(CODE))
    return 'This browser cannot run the audio engine, which needs WebAssembly with vectors. Any browser of the last years can.';
  if (!('indexedDB' in globalThis) || !('locks' in navigator))
    return 'This browser keeps nothing for pages, so that a rig would be lost. Allow storage for this address, or use another browser.';
  return undefined;
}
