/** What a controller does that moves no setting, on a part or on the chosen one. */
import type { SparseDealValues } from '#core/params/deal-rows.ts';
import type { MappedAction } from '#core/params/mapping-rows.ts';
import { deal } from '#core/project/commands/deal.ts';
import { takeHand } from '#core/project/commands/hands.ts';
import { choosePattern } from '#core/project/commands/patterns.ts';
import { setValue } from '#core/project/commands/values.ts';
import { homeId } from '#core/document/home-id.ts';
import type { Part } from '#core/document/schema.ts';
import { channelValues } from '#core/queries/values.ts';
import { useActions } from '../frame/actions.ts';
import { useNotices } from '../frame/notices.ts';
import { useProject } from '../document/project.ts';
import { useSession } from '../document/session.ts';
import { useDealing } from '../pattern/dealing.ts';
import { useTreating } from '../sound/treating.ts';
import type { ActionId } from '../../input/shortcuts.ts';

/** How much of the free steps one colour alone reaches, where the rules say nothing of it. */
const USUAL_PERCENT = 50;
const USUAL_DB = 6;

/** Dealing that leaves the order of the steps alone, and colours them in one way. */
const ALONE: Partial<Record<MappedAction, SparseDealValues>> = {
  'deal-pitch': { pitchPercent: USUAL_PERCENT },
  'deal-repeats': { repeatsPercent: USUAL_PERCENT },
  'deal-backwards': { backwardsPercent: USUAL_PERCENT },
  'deal-short': { shortPercent: USUAL_PERCENT },
  'deal-levels': { levelSpreadDb: USUAL_DB },
  'deal-pan': { panSpread: USUAL_PERCENT },
};
/** What the keyboard has, too. */
const AS_KEYS: Partial<Record<MappedAction, ActionId>> = {
  record: 'record',
  keep: 'keep-played',
  'write-down': 'write-down',
  play: 'play',
  tap: 'tap',
  'sound-off': 'sound-off',
};

export function actOn(does: MappedAction, partId: string | null): void {
  const project = useProject();
  const session = useSession();
  const key = AS_KEYS[does];
  if (key) {
    useActions().run(key);
    return;
  }
  const part = partId === null ? session.part : (project.document?.parts[partId] ?? null);
  if (!part) {
    useNotices().info('The part that this was for is gone.');
    return;
  }
  const alone = ALONE[does];
  if (alone) dealAlone(part, alone);
  else if (does === 'deal') useDealing().dealPart(part.id);
  else if (does === 'next-hand') stepHand(part, 1);
  else if (does === 'hand-before') stepHand(part, -1);
  else if (does === 'next-pattern') stepPattern(part, 1);
  else if (does === 'pattern-before') stepPattern(part, -1);
  else if (does === 'next-treatment') useTreating().putNextOn(part);
  else if (does === 'mute') mute(part);
}

function dealAlone(part: Part, colour: SparseDealValues): void {
  const { dealRules } = useSession();
  const [id, usual] = Object.entries(colour)[0]! as [keyof SparseDealValues, never];
  const rules: SparseDealValues = { [id]: dealRules[id] ?? usual };
  if (id === 'pitchPercent' && dealRules.intervals !== undefined)
    Object.assign(rules, { intervals: dealRules.intervals });
  useProject().run('deal one colour', deal, { partId: part.id, reachPercent: 0, rules });
}

function stepHand(part: Part, by: number): void {
  const project = useProject();
  const pattern = project.document!.patterns[part.activePatternId];
  const order = pattern?.handOrder ?? [];
  if (!pattern || order.length < 2) {
    useNotices().info('There is no other hand yet: deal first.');
    return;
  }
  const at = (order.indexOf(pattern.handId ?? '') + by + order.length) % order.length;
  project.run(`hand ${at + 1}`, takeHand, { patternId: pattern.id, handId: order[at]! });
}

function stepPattern(part: Part, by: number): void {
  const all = [...part.cutOrder.map(homeId), ...part.patternOrder];
  const at = (all.indexOf(part.activePatternId) + by + all.length) % all.length;
  useProject().run('change pattern', choosePattern, { partId: part.id, patternId: all[at]! });
}

function mute(part: Part): void {
  const project = useProject();
  const { muted } = channelValues(project.document!.channels[part.channelId]!);
  const owners = [{ kind: 'channel' as const, id: part.channelId }];
  project.run(muted ? 'no mute' : 'mute', setValue, { owners, param: 'muted', change: { to: !muted } });
}
