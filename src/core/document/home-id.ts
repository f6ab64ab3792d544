/** The home pattern of a cut is called after it. */
const HOME_PREFIX = 'home-';

/** The pattern id of a cut's home pattern, which is computed from the cut and never stored. */
export function homeId(cutId: string): string {
  return HOME_PREFIX + cutId;
}

export function isHome(patternId: string): boolean {
  return patternId.startsWith(HOME_PREFIX);
}

/** The cut whose home pattern an id names; null for other patterns. */
export function cutIdOfHome(patternId: string): string | null {
  return isHome(patternId) ? patternId.slice(HOME_PREFIX.length) : null;
}
