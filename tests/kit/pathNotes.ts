export const tempo120 = { patch: { tempo: 120 } };
