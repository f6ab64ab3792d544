import { describe, expect, it } from 'vitest';
import { planOf, set, shortBursts } from '../../../tests/support/playing.ts';
import { PartState, type PlanMoment } from './part-state.ts';
import type { RenderPlan } from './render-plan.ts';
import { SongClock } from './song-clock.ts';

const RATE = 44_100;
const stretched = set(shortBursts(), { follow: 'stretch', transposeAt: 'bar' }, 90);
const playing: PlanMoment = { frame: 1_000, songTicks: 500, barTicks: 3840, sameTempo: true };
const stopped: PlanMoment = { ...playing, barTicks: null };

const transposed = (cents: number) => planOf(set(stretched, { transposeCents: cents }));
function stateOf(plan: RenderPlan): PartState {
  return new PartState(plan.parts[0]!, plan.sources);
}
function follow(state: PartState, plan: RenderPlan, moment = playing): PartState {
  state.follow(plan.parts[0]!, plan.sources, moment);
  return state;
}
const sourceIds = (state: PartState) => state.sounds.map(({ source }) => source!.id);

describe('what a part plays from one plan to the next', () => {
  it('keeps the old renderings until the bar line, then takes the new ones', () => {
    const state = stateOf(planOf(stretched));
    const before = sourceIds(state);
    follow(state, transposed(300));
    expect(sourceIds(state)).toEqual(before);
    expect(state.changeTicks).toBe(3840);
    state.settle();
    expect(sourceIds(state)).not.toEqual(before);
    expect(state.changeTicks).toBe(Infinity);
  });

  it('does not put a bar line off when another change comes, and forgets a change that is taken back', () => {
    const plan = planOf(stretched);
    const state = follow(stateOf(plan), transposed(300));
    follow(state, transposed(500), { ...playing, barTicks: 7680 });
    expect(state.changeTicks).toBe(3840);
    follow(state, plan);
    expect(state.changeTicks).toBe(Infinity);
    state.settle();
    expect(sourceIds(state)).toEqual(sourceIds(stateOf(plan)));
  });

  it('waits for nothing while the song stands still, at another tempo, or when asked to be heard at once', () => {
    const wanted = sourceIds(stateOf(transposed(300)));
    expect(sourceIds(follow(stateOf(planOf(stretched)), transposed(300), stopped))).toEqual(wanted);
    const turned = { ...playing, sameTempo: false };
    expect(sourceIds(follow(stateOf(planOf(stretched)), transposed(300), turned))).toEqual(wanted);
    const now = planOf(set(stretched, { transposeCents: 300, transposeAt: 'now' }));
    expect(sourceIds(follow(stateOf(planOf(stretched)), now))).toEqual(wanted);
  });

  it('lets what belongs to the slice change meanwhile, and follows a new cut at once', () => {
    const state = stateOf(planOf(stretched));
    const before = sourceIds(state);
    const plan = transposed(300);
    const [part] = plan.parts;
    const quiet = { ...part!, slices: part!.slices.map((slice) => ({ ...slice, gainLeft: 0.25 })) };
    state.follow(quiet, plan.sources, playing);
    expect(state.sounds.every(({ slice }) => slice.gainLeft === 0.25)).toBe(true);
    expect(sourceIds(state)).toEqual(before);
    const recut = { ...part!, slices: part!.slices.slice(1) };
    state.follow(recut, plan.sources, playing);
    expect(state.sounds).toHaveLength(7);
    expect(state.sounds.map(({ slice }) => slice.startFrame)).toEqual(recut.slices.map((slice) => slice.startFrame));
  });

  it('of slices that are played faster the samples stay, and only the speed waits', () => {
    const sliced = set(shortBursts(), { transposeAt: 'bar' });
    const state = stateOf(planOf(sliced));
    follow(state, planOf(set(sliced, { transposeCents: 1200 })));
    expect(state.tune).toBe(1);
    state.settle();
    expect(state.tune).toBe(2);
  });

  it('keeps a tempo of its own from where the song is, and comes back to the song', () => {
    const song = new SongClock(RATE, 90);
    const free = planOf(set(stretched, { follow: 'none' }));
    const state = stateOf(free);
    state.keepTime(RATE, { frame: 10_000, songTicks: 960 });
    expect(state.clockOr(song)).not.toBe(song);
    expect(state.clockOr(song).ticksAt(10_000)).toBe(960);
    // The loop's own 120 beats a minute: half a second a beat.
    expect(state.clockOr(song).ticksAt(10_000 + RATE / 2)).toBeCloseTo(1920, 6);
    follow(state, planOf(stretched));
    state.keepTime(RATE, { frame: 50_000, songTicks: 2000 });
    expect(state.clockOr(song)).toBe(song);
  });
});
