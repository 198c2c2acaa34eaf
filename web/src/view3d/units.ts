/** Metres in one of each unit of length. */
export const METRES = { mm: 0.001, cm: 0.01, m: 1, in: 0.0254, ft: 0.3048 } as const;
