/** The rules of the next deal: their values, which are of no use as others are set, and how many steps they leave free. */
import { computed } from 'vue';
import { DEAL_ROWS, type DealValues } from '#core/params/deal-rows.ts';
import { fullValues, withValues } from '#core/params/row.ts';
import { freeSteps } from '#core/project/commands/deal.ts';
import { useDealing } from '../../stores/pattern/dealing.ts';
import { useProject } from '../../stores/document/project.ts';
import { useSession } from '../../stores/document/session.ts';

export type RuleId = keyof DealValues;

export function useDealRules() {
  const project = useProject();
  const session = useSession();
  const dealing = useDealing();
  const values = computed(() => fullValues(DEAL_ROWS, session.dealRules));
  const freeIds = computed(() => {
    const { part } = session;
    if (!project.document || !part) return new Set<string>();
    const onlyIds = dealing.onlyChosen && session.eventIds.length > 0 ? session.eventIds : undefined;
    return freeSteps(project.document, { partId: part.id, rules: session.dealRules, onlyIds });
  });

  /** Whole stretches change places only where sounds are exchanged, and only there the feel can go along. */
  function isOfNoUse(id: RuleId): boolean {
    const { sounds, unit, repeatsPercent, pitchPercent } = values.value;
    const isDrawn = sounds !== 'exchanged';
    if (id === 'admitsOthers') return sounds !== 'any';
    if (id === 'mostRepeats' || id === 'repeatRates') return repeatsPercent === 0;
    if (id === 'intervals') return pitchPercent === 0;
    return id === 'unit' ? isDrawn : id === 'keepsFeel' && (isDrawn || unit === 'strip');
  }

  function put(id: RuleId, value: unknown): void {
    session.dealRules = withValues(DEAL_ROWS, session.dealRules, { [id]: value });
  }

  return { values, freeIds, isOfNoUse, put };
}
