/** Phrases that were just played, by hands or by what stands on the way to the keys: kept, written down, or for a print. */
import { useStorage } from '@vueuse/core';
import { defineStore } from 'pinia';
import { computed } from 'vue';
import { playedPhrase, writtenDown, type PlayedPhrase } from '#core/patterns/played.ts';
import type { PlayedPresses } from '#core/patterns/presses.ts';
import { layPattern } from '#core/project/commands/patterns.ts';
import type { Part, ProjectDocument } from '#core/document/schema.ts';
import { partTempoBpm, sourceFramesPerTick } from '#core/queries/following.ts';
import { partTiming } from '#core/queries/loops.ts';
import { patternLengthTicks } from '#core/queries/patterns.ts';
import { partValues, songValues } from '#core/queries/values.ts';
import { zonesOfPart, type PlacedZone } from '#core/queries/zones.ts';
import { framesPerTick, TICKS_PER_BEAT } from '#core/units/time.ts';
import { untimedTicks } from '#core/strips/timing.ts';
import { ENGINE_SAMPLE_RATE } from '../../audio/engine-host.ts';
import { engine } from '../../audio/services.ts';
import { useNotices } from '../frame/notices.ts';
import { useProject } from '../document/project.ts';
import { useSession } from '../document/session.ts';
import { usePlayed } from '../sound/played.ts';
import { pressedSound } from '../sound/press-sounds.ts';

/** How many of the last bars are written down. */
export const WRITTEN_BARS = [1, 2, 4, 8, 16] as const;
const USUAL_BARS = 2;

/** A phrase that was heard, as it has to be written so that the part's timing puts it where it was heard. */
function written({ strips, lengthTicks }: PlayedPhrase, timing: ReturnType<typeof partTiming>): PlayedPhrase {
  const placed = strips.map((strip) => ({
    ...strip,
    positionTicks: Math.max(0, Math.min(lengthTicks - 1, untimedTicks(strip.positionTicks, timing, lengthTicks))),
  }));
  return { strips: placed, lengthTicks };
}

export const usePhrases = defineStore('phrases', () => {
  const project = useProject();
  const session = useSession();
  const notices = useNotices();
  const played = usePlayed();
  const storedBars = useStorage<number>('yappa.written-bars', USUAL_BARS);
  const bars = computed({
    get: () => WRITTEN_BARS.find((count) => count === storedBars.value) ?? USUAL_BARS,
    set: (count) => (storedBars.value = count),
  });

  /** What was played on a part, as far as its sounds are still there. */
  function heardOf(document: ProjectDocument, part: Part, by: 'key' | 'helper') {
    const { tempoBpm } = songValues(document);
    const ownTempo = partTempoBpm(document, part);
    const timing = {
      ticksPerFrame: 1 / framesPerTick(ownTempo, ENGINE_SAMPLE_RATE),
      ticksPerSongTick: ownTempo / tempoBpm,
    };
    const byId = new Map(zonesOfPart(document, part).map((placed) => [placed.zone.id, placed]));
    const all: PlayedPresses = played.ofPart(part.id, timing, by);
    const presses = all.presses.filter(({ zoneId }) => byId.has(zoneId));
    const soundOf = (zoneId: string, key: number) => pressedSound(document, byId.get(zoneId)!, key);
    return { ...all, presses, soundOf, offsetTicks: all.withSong ? partValues(part).startOffsetTicks : 0 };
  }
  const barTicksOf = (document: ProjectDocument) => songValues(document).beatsPerBar * TICKS_PER_BEAT;
  const asWritten = (document: ProjectDocument, part: Part, phrase: PlayedPhrase | null, withSong: boolean) =>
    phrase && withSong ? written(phrase, partTiming(document, part)) : phrase;

  /** What hands have just played; null for nothing. */
  function byHands(document: ProjectDocument, part: Part): PlayedPhrase | null {
    const { withSong, presses, soundOf, offsetTicks } = heardOf(document, part, 'key');
    const roundTicks = withSong ? patternLengthTicks(document, part.activePatternId) : barTicksOf(document);
    return asWritten(document, part, playedPhrase(presses, roundTicks, offsetTicks, soundOf), withSong);
  }

  /** What chord, runner and echoes have played in the last bars; null for nothing. */
  function byHelpers(document: ProjectDocument, part: Part): PlayedPhrase | null {
    const { withSong, presses, soundOf, offsetTicks } = heardOf(document, part, 'helper');
    const now = engine.status.parts.find(({ partId }) => partId === part.id)?.positionTicks ?? 0;
    const where = {
      barTicks: barTicksOf(document),
      offsetTicks,
      nowTicks: withSong && engine.status.playing ? now : null,
    };
    return asWritten(document, part, writtenDown(presses, bars.value, where, soundOf), withSong);
  }

  /** The chosen sounds after one another, each as long as it is by itself. */
  function ofSounds(document: ProjectDocument, placed: readonly PlacedZone[]): PlayedPhrase | null {
    let at = 0;
    const strips = placed.flatMap(({ zone, at: slice, cut }) => {
      if (zone.plays.kind !== 'slice') return [];
      const lengthTicks = (slice.endFrame - slice.startFrame) / sourceFramesPerTick(document, cut, slice);
      const strip = { zoneId: zone.id, positionTicks: at, lengthTicks, values: {} };
      at += lengthTicks;
      return [strip];
    });
    return strips.length > 0 ? { strips, lengthTicks: at } : null;
  }

  function lay(label: string, phrase: PlayedPhrase | null, nothing: string): void {
    const { part } = session;
    if (!part) return;
    if (!phrase || phrase.strips.length === 0) {
      notices.info(nothing);
      return;
    }
    const laid = project.run(label, layPattern, { partId: part.id, name: '', ...phrase });
    if (laid) session.selectEvents(session.events.map(({ id }) => id));
  }

  /** What was just played on the part's keys becomes a pattern of its own, without anything having been armed. */
  function keepPlayed(): void {
    if (!session.part || !project.document) return;
    const phrase = byHands(project.document, session.part);
    lay('keep what was played', phrase, 'Nothing was played on the keys of this part lately: play, then keep it.');
  }

  /** What its helpers have just played becomes a pattern of its own. */
  function writeDown(): void {
    if (!session.part || !project.document) return;
    const phrase = byHelpers(project.document, session.part);
    lay('write down', phrase, 'Chord, runner and echoes have played nothing lately: hold a key, then write down.');
  }

  return { bars, byHands, byHelpers, ofSounds, keepPlayed, writeDown };
});
