/** What a plan is compiled of, beside the document. */
import type { AudioData } from '../../dsp/audio.ts';
import type { Renderings } from './renderings.ts';

export interface PlanInputs {
  /** Audio by source id; zones whose audio is missing are silent. */
  assets: ReadonlyMap<string, AudioData>;
  /** Stretched slices and tails; where one is missing the slice plays as it is. */
  renderings?: Renderings;
  /** Only this part is heard, whatever is muted or soloed. */
  onlyPartId?: string;
}
