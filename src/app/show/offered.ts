/** In the session's storage: what this tab offers to devices (see pairing.ts). */
export const OFFERED = 'wavicle-pairing';
