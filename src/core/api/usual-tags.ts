/** Tags that are offered before anybody has made one (common practice). */
export const USUAL_TAGS = ['break', 'chords', 'bass', 'found', 'hit'];
