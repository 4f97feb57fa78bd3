/** What a filter of a voice may be; the first is none. */
export const FILTER_KINDS = [
  'off',
  'low-pass 12 dB',
  'low-pass 24 dB',
  'high-pass 12 dB',
  'high-pass 24 dB',
  'band-pass 12 dB',
  'band-pass 24 dB',
  'notch 12 dB',
  'notch 24 dB',
  'peak',
  'comb forward',
  'comb feedback',
] as const;
export type FilterKind = (typeof FILTER_KINDS)[number];

export const OFF = 0,
  LOW_12 = 1,
  LOW_24 = 2,
  HIGH_12 = 3,
  HIGH_24 = 4,
  BAND_12 = 5,
  BAND_24 = 6,
  NOTCH_12 = 7,
  NOTCH_24 = 8,
  PEAK = 9,
  COMB_FORWARD = 10,
  COMB_FEEDBACK = 11;
