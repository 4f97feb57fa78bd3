export const QUIET = { params: { level: -12 } };
