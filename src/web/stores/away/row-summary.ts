/** What a row of Take away says it will give. */
export interface RowSummary {
  /** The file, or the first of them. */
  fileName: string;
  files: number;
  seconds: number;
  bytes: number;
  /** The size is about right only. */
  isAbout: boolean;
  /** Why it cannot be made now; null when it can. */
  problem: string | null;
  /** What will not be in it; left out where nothing is. */
  lacks?: string;
}

/** There is nothing to take away. */
export const NO_ROW: RowSummary = {
  fileName: '',
  files: 0,
  seconds: 0,
  bytes: 0,
  isAbout: false,
  problem: 'no part yet',
};
export const LOADING = 'the sound is still being loaded';
