/** What is stretched: it decides how long the windows are, and how much after an attack stays untouched. */
export const MATERIALS = ['drums', 'notes', 'mixes'] as const;
export type Material = (typeof MATERIALS)[number];

/** Beyond this a stretched sound is all artefact. */
export const MAX_STRETCH_RATIO = 4;
