/** Dealing from what lies on the table: hands are dealt, taken up again, compared, bred; by itself every so many rounds. */
import { defineStore } from 'pinia';
import { computed, ref, watch } from 'vue';
import { partTempoBpm } from '#core/queries/following.ts';
import { deal } from '#core/project/commands/deal.ts';
import { breedHands, nameHand, patternOfHand, starHand, takeHand } from '#core/project/commands/hands.ts';
import type { Hand } from '#core/document/schema.ts';
import { partValues, songValues } from '#core/queries/values.ts';
import { countedBeatTicks, TICKS_PER_BEAT } from '#core/units/time.ts';
import { engine } from '../../audio/services.ts';
import { useNotices } from '../frame/notices.ts';
import { useProject } from '../document/project.ts';
import { useSession } from '../document/session.ts';

/** A hand that is to take over at a line is dealt after this share of the time before it: early enough to be there. */
const DEALT_AT = 0.1;

export const useDealing = defineStore('dealing', () => {
  const project = useProject();
  const session = useSession();
  const notices = useNotices();
  /** Only the chosen strips take part, where some are chosen. */
  const onlyChosen = ref(false);
  /** Deals by itself every so many rounds; 0: never. */
  const everyRounds = ref(0);
  /** The hand that the one on the table is compared with, and bred with. */
  const otherId = ref<string | null>(null);
  let dealtRounds = -1;

  const hand = computed<Hand | null>(() => {
    const { pattern } = session;
    return pattern?.handId ? (pattern.hands[pattern.handId] ?? null) : null;
  });
  const place = computed(() => (hand.value ? session.pattern!.handOrder.indexOf(hand.value.id) : 0));
  const other = computed<Hand | null>(() => {
    const found = session.pattern?.hands[otherId.value ?? ''];
    return found && found.id !== hand.value?.id ? found : null;
  });
  watch(
    () => session.patternId,
    () => (otherId.value = null),
  );

  /** Deals what another part plays, by the rules that are set. */
  function dealPart(partId: string): void {
    if (partId === session.part?.id) again();
    else project.run('deal', deal, { partId, reachPercent: session.reachPercent, rules: { ...session.dealRules } });
  }

  /** Deals what lies on the table; `seed` repeats a certain deal from what this hand was dealt from. */
  function again(seed?: number): void {
    const { part } = session;
    if (!part) return;
    const told = seed === undefined ? null : hand.value;
    const chosen = onlyChosen.value && session.eventIds.length > 0 ? session.eventIds : undefined;
    if (told?.withHandId && told.fromHandId) {
      breed(told.fromHandId, told.withHandId, told.reachPercent, seed);
      return;
    }
    project.run('deal', deal, {
      partId: part.id,
      reachPercent: told?.reachPercent ?? session.reachPercent,
      rules: told ? (told.rules ?? {}) : { ...session.dealRules },
      seed,
      fromHandId: told?.fromHandId ?? undefined,
      onlyIds: told ? told.onlyIds : chosen,
    });
    if (!chosen) session.eventIds = [];
  }

  /** Deals the chosen strips alone. */
  function chosenAgain(): void {
    const { part } = session;
    if (!part || session.eventIds.length === 0) return;
    const { reachPercent, dealRules, eventIds } = session;
    project.run('deal the chosen', deal, { partId: part.id, reachPercent, rules: { ...dealRules }, onlyIds: eventIds });
  }

  function takeAt(at: number): void {
    const handId = session.pattern?.handOrder[at];
    if (handId) take(handId);
  }

  function take(handId: string): void {
    const at = session.pattern?.handOrder.indexOf(handId) ?? -1;
    if (at >= 0) project.run(`hand ${at + 1}`, takeHand, { patternId: session.patternId, handId });
  }

  function before(): void {
    if (hand.value && place.value > 0) takeAt(place.value - 1);
  }

  /** The two hands change places on the table: heard one after the other in the same place. */
  function compare(): void {
    const { value: two } = other;
    const { value: one } = hand;
    if (!one || !two) {
      notices.info('Mark the hand to compare with first: Shift-click it.');
      return;
    }
    take(two.id);
    otherId.value = one.id;
  }

  function breed(oneId?: string, twoId?: string, otherPercent = 50, seed?: number): void {
    const handId = oneId ?? hand.value?.id;
    const withId = twoId ?? other.value?.id;
    if (!handId || !withId) {
      notices.info('Mark the hand to breed with first: Shift-click it.');
      return;
    }
    const args = { patternId: session.patternId, handId, otherId: withId, otherPercent, seed };
    project.run('breed two hands', breedHands, args);
    session.eventIds = [];
  }

  /** The star of the hand on the table. */
  function star(): void {
    const { value: one } = hand;
    if (!one) return;
    const starred = !one.starred;
    const args = { patternId: session.patternId, handId: one.id, starred };
    project.run(starred ? 'star a hand' : 'take a star away', starHand, args);
  }

  function name(words: string): void {
    if (hand.value)
      project.run('name a hand', nameHand, { patternId: session.patternId, handId: hand.value.id, name: words });
  }

  function makePattern(): void {
    if (hand.value)
      project.run('a hand as a pattern', patternOfHand, { patternId: session.patternId, handId: hand.value.id });
  }

  /** The rules of the hand on the table become those of the next deal. */
  function takeRules(): void {
    if (!hand.value) return;
    session.dealRules = { ...hand.value.rules };
    session.reachPercent = hand.value.reachPercent;
  }

  /** How long before the end of a round a hand is dealt, so that it takes over there. */
  function leadTicks(lengthTicks: number): number {
    const { changesAt, beatsPerBar } = songValues(project.document!);
    const unit = { now: 0, beat: countedBeatTicks(beatsPerBar), bar: beatsPerBar * TICKS_PER_BEAT, round: lengthTicks };
    return Math.min(lengthTicks, unit[changesAt]) * (1 - DEALT_AT);
  }

  engine.onStatus(({ playing }) => {
    const { part, lengthTicks } = session;
    if (!playing || everyRounds.value === 0 || !part || !project.document || lengthTicks <= 0) {
      dealtRounds = -1;
      return;
    }
    const at = engine.partTicksNow(part.id, partTempoBpm(project.document, part)) - partValues(part).startOffsetTicks;
    const rounds = Math.floor((at + leadTicks(lengthTicks)) / (lengthTicks * everyRounds.value));
    if (dealtRounds >= 0 && rounds > dealtRounds) again();
    dealtRounds = rounds;
  });

  return {
    onlyChosen,
    everyRounds,
    otherId,
    hand,
    place,
    other,
    again,
    dealPart,
    chosenAgain,
    takeAt,
    take,
    before,
    compare,
    breed,
    star,
    name,
    makePattern,
    takeRules,
  };
});
