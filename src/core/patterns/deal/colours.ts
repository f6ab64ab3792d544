/**
 * Colours of a deal: each of its chances is drawn from the seed by itself, step by step, so that turning one of them
 * changes nothing that another has drawn.
 */
import { DEAL_INTERVALS, type DealValues } from '../../params/deal-rows.ts';
import { EVENT_ROWS } from '../../params/tables.ts';
import type { PatternEvent } from '../../document/schema.ts';
import { mix32 } from '../../units/hash.ts';
import { seededRandom, type Random } from '../../units/random.ts';

type Values = PatternEvent['values'];

/** Places of the colours in the seed: never to be changed, or a seed deals otherwise. */
const DRAWS = { silence: 1, backwards: 2, repeats: 3, pitch: 4, short: 5, level: 6, pan: 7, rates: 8 } as const;
/** A strip that is cut short lasts so much of its length. */
const SHORT_SHARE = 0.5;
const SHORTEST_TICKS = 7.5;

const fit = (value: number, { min, max }: { min: number; max: number }) => Math.max(min, Math.min(max, value));
const spread = (random: Random, most: number) => most * (2 * random() - 1);
const upTo = (random: Random, count: number) => Math.min(count - 1, Math.floor(random() * count));

/** Least that is heard of faster and slower repeats, of 1. */
const LEAST_PULL = 0.2;

/** How much repeats are drawn together; below 0 apart. */
function drawnPull(rates: DealValues['repeatRates'], random: Random): number {
  const drawn = random();
  const size = (share: number) => Math.round(100 * (LEAST_PULL + (1 - LEAST_PULL) * share)) / 100;
  if (rates === 'faster') return size(drawn);
  if (rates === 'slower') return -size(drawn);
  // A third each: faster, slower, evenly.
  const [third, share] = [Math.floor(3 * drawn), (3 * drawn) % 1];
  return third === 0 ? size(share) : third === 1 ? -size(share) : 0;
}

/** Values without those that are as the table has them anyway. */
function withValue<Id extends keyof Values>(values: Values, id: Id, value: Values[Id]): Values {
  const { [id]: _before, ...rest } = values;
  return (EVENT_ROWS[id].default as unknown) === value ? rest : { ...rest, [id]: value };
}

/**
 * Colours the free steps. A chance that is 0 leaves its side of a step as it lies; else a step that is not hit has it as
 * it was before dealing.
 * @param events in order of position
 * @param isFree does a step take part?
 * @param plainOf an event before dealing; undefined for one that came later
 */
export function colourEvents(
  events: readonly PatternEvent[],
  seed: number,
  rules: DealValues,
  isFree: (event: PatternEvent) => boolean,
  plainOf: (id: string) => PatternEvent | undefined,
): PatternEvent[] {
  let out = [...events];

  /** One colour over all steps; two numbers are drawn for each, whether it is hit or not. */
  function colour(
    place: number,
    percent: number,
    change: (event: PatternEvent, plain: PatternEvent, random: Random | null) => PatternEvent,
  ): void {
    if (percent <= 0) return;
    const random = seededRandom(mix32(seed, place));
    out = out.map((event) => {
      const isHit = random() * 100 < percent;
      const own = random();
      if (!isFree(event)) return event;
      return change(event, plainOf(event.id) ?? event, isHit ? () => own : null);
    });
  }
  const valueOf = <Id extends keyof Values>(id: Id, hit: (plain: Values, random: Random) => Values[Id]) => {
    return (event: PatternEvent, { values: plain }: PatternEvent, random: Random | null): PatternEvent => ({
      ...event,
      values: withValue(
        event.values,
        id,
        random ? hit(plain, random) : (plain[id] ?? (EVENT_ROWS[id].default as Values[Id])),
      ),
    });
  };

  colour(
    DRAWS.silence,
    rules.silencePercent,
    valueOf('chancePercent', () => 0),
  );
  colour(
    DRAWS.backwards,
    rules.backwardsPercent,
    valueOf('reverse', ({ reverse = false }) => !reverse),
  );
  colour(
    DRAWS.repeats,
    rules.repeatsPercent,
    valueOf('repeats', (_, random) => 2 + upTo(random, rules.mostRepeats - 1)),
  );
  colour(DRAWS.rates, rules.repeatsPercent > 0 && rules.repeatRates !== 'even' ? 100 : 0, (event, plain, random) => {
    const pull = random && (event.values.repeats ?? 1) > 1 ? drawnPull(rules.repeatRates, random) : null;
    return { ...event, values: withValue(event.values, 'repeatPull', pull ?? plain.values.repeatPull ?? 0) };
  });
  const intervals = rules.intervals === 'free' ? null : DEAL_INTERVALS[rules.intervals];
  const octave = 1200;
  colour(
    DRAWS.pitch,
    rules.pitchPercent,
    valueOf('tuneCents', ({ tuneCents = 0 }, random) =>
      fit(
        tuneCents + (intervals ? 100 * intervals[upTo(random, intervals.length)]! : Math.round(spread(random, octave))),
        EVENT_ROWS.tuneCents,
      ),
    ),
  );
  colour(DRAWS.short, rules.shortPercent, (event, plain, random) => ({
    ...event,
    lengthTicks: random ? Math.max(SHORTEST_TICKS, plain.lengthTicks * SHORT_SHARE) : plain.lengthTicks,
  }));
  colour(
    DRAWS.level,
    rules.levelSpreadDb > 0 ? 100 : 0,
    valueOf('gainDb', ({ gainDb = 0 }, random) => fit(gainDb + spread(random, rules.levelSpreadDb), EVENT_ROWS.gainDb)),
  );
  colour(
    DRAWS.pan,
    rules.panSpread > 0 ? 100 : 0,
    valueOf('pan', ({ pan = 0 }, random) => fit(pan + spread(random, rules.panSpread), EVENT_ROWS.pan)),
  );
  return out;
}

/** Does a deal change more than the order of sounds? */
export function isColoured(rules: DealValues): boolean {
  const { silencePercent, backwardsPercent, repeatsPercent, pitchPercent, shortPercent } = rules;
  const chances = [silencePercent, backwardsPercent, repeatsPercent, pitchPercent, shortPercent, rules.busyPercent];
  return [...chances, rules.levelSpreadDb, rules.panSpread].some((value) => value !== 0);
}
