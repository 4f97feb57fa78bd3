/**
 * The smallest module with a vector in it: a function that fills one with a zero and counts its bits (WebAssembly core
 * specification 2.0, binary format: 0xfd 0x0f i8x16.splat, 0xfd 0x62 i8x16.popcnt). The kernel itself is too large to be
 * fetched before anything is shown.
 */
export const VECTORS = Uint8Array.of(
  ...[0, 0x61, 0x73, 0x6d, 1, 0, 0, 0], // magic, version
  ...[1, 5, 1, 0x60, 0, 1, 0x7b], // a type: nothing to v128
  ...[3, 2, 1, 0], // a function of it
  ...[10, 10, 1, 8, 0, 0x41, 0, 0xfd, 0x0f, 0xfd, 0x62, 0x0b], // its code
);

/** What a browser, or the address of the page, lacks for the application to run at all; undefined where nothing is. */
export function whatIsMissing(): string | undefined {
  if (!isSecureContext)
    return `Browsers give sound, MIDI and storage only to pages from this machine itself or from https addresses, and ${location.origin} is neither. Open the application as http://localhost on the machine that serves it, or serve it through https.`;
  if (!('AudioWorkletNode' in globalThis))
    return 'This browser has no audio worklets, in which the sound is made. Any browser of the last years has them.';
  if (!WebAssembly.validate(VECTORS))
    return 'This browser cannot run the audio engine, which needs WebAssembly with vectors. Any browser of the last years can.';
  if (!('indexedDB' in globalThis) || !('locks' in navigator))
    return 'This browser keeps nothing for pages, so that a rig would be lost. Allow storage for this address, or use another browser.';
  return undefined;
}
