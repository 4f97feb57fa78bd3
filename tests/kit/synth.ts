export const SINE = 4,
  TRIANGLE = 3,
  PULSE = 2,
  WAVES = 0;
