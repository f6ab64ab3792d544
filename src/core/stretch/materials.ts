/** Beyond this a stretched sound is all artefact. */
export const MAX_STRETCH_RATIO = 4;
