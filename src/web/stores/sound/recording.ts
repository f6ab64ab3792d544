/**
 * Records what is played on keys into the pattern that goes round. Each round is one step of undo. What is drawn on to a
 * place that is still to come waits until that has passed, so that nothing is heard twice.
 */
import { useStorage } from '@vueuse/core';
import { defineStore } from 'pinia';
import { computed, ref, watch } from 'vue';
import { partTempoBpm } from '#core/queries/following.ts';
import type { EngineStatus } from '#core/engine/messages.ts';
import type { PlayedNote } from '#core/strips/played-note.ts';
import { RECORD_ROWS, type SparseRecordValues } from '#core/params/record-rows.ts';
import { fullValues, soundValues } from '#core/params/row.ts';
import type { PlayedPress } from '#core/patterns/played.ts';
import { recordedStrip, type RecordedStrip } from '#core/patterns/recorded.ts';
import { removeEvents } from '#core/project/commands/events.ts';
import { copyPattern } from '#core/project/commands/patterns.ts';
import { placeEvents } from '#core/project/commands/transform.ts';
import { isHome } from '#core/document/home-id.ts';
import type { PatternEvent } from '#core/document/schema.ts';
import { partTiming } from '#core/queries/loops.ts';
import { eventsOf, patternLengthTicks } from '#core/queries/patterns.ts';
import { partValues, songValues } from '#core/queries/values.ts';
import { zonesOfPart } from '#core/queries/zones.ts';
import { engine } from '../../audio/services.ts';
import { useNotices } from '../frame/notices.ts';
import { pressedSound } from './press-sounds.ts';
import { useProject } from '../document/project.ts';
import { useSession } from '../document/session.ts';
import { useTransport } from './transport.ts';

/** A press so little before recording begins was meant for its first line: a 1/32 note. */
const EARLY_TICKS = 120;

interface Take {
  partId: string;
  patternId: string;
  /** Song position from which on presses count, in ticks of the part. */
  fromTicks: number;
  round: number;
  /** Presses that have not ended, by their names. */
  held: Map<number, PlayedPress>;
  /** What is still to be put down. */
  due: RecordedStrip[];
  /** What gave way in this round, and from where on. */
  gaveWay: PatternEvent[] | null;
}

export const useRecording = defineStore('recording', () => {
  const project = useProject();
  const session = useSession();
  const transport = useTransport();
  const notices = useNotices();
  const sparse = useStorage<SparseRecordValues>('yappa.record', {});
  const rules = computed(() => fullValues(RECORD_ROWS, soundValues(RECORD_ROWS, sparse.value)));
  const isOn = ref(false);
  /** Strips of this take. */
  const count = ref(0);
  let take: Take | null = null;
  let takes = 0;

  /** Begins, with the count-in if the song stands; or ends, and the song plays on. */
  async function toggle(): Promise<void> {
    if (isOn.value) {
      end();
      return;
    }
    const { part } = session;
    if (!part || project.viewing) {
      notices.info('There is nothing to record into: open a part first.');
      return;
    }
    takes++;
    count.value = 0;
    take = {
      partId: part.id,
      patternId: session.patternId,
      fromTicks: 0,
      round: -1,
      held: new Map(),
      due: [],
      gaveWay: null,
    };
    isOn.value = true;
    // One records into a pattern while it goes round.
    const wasInOrder = transport.followsOrder;
    transport.leaveOrder();
    if (transport.playing && !wasInOrder) take.fromTicks = nowTicks(engine.status);
    else await transport.play();
  }

  function nowTicks(status: EngineStatus): number {
    return status.parts.find(({ partId }) => partId === take?.partId)?.positionTicks ?? 0;
  }

  /** What is known of the pattern and its part now; null when one of them is gone. */
  function place() {
    const { document } = project;
    const part = take && document?.parts[take.partId];
    if (!take || !document || !part) return null;
    const lengthTicks = patternLengthTicks(document, take.patternId);
    if (lengthTicks <= 0) return null;
    const tempoBpm = partTempoBpm(document, part);
    const { startOffsetTicks } = partValues(part);
    return { document, part, lengthTicks, tempoBpm, offsetTicks: startOffsetTicks };
  }

  engine.onStatus((status) => {
    if (!take) return;
    const at = place();
    if (!at) {
      end();
      return;
    }
    for (const note of status.played) if (note.partId === take.partId) hear(note, at);
    const now = nowTicks(status);
    put(now);
    const round = Math.floor((now - at.offsetTicks) / at.lengthTicks);
    if (round !== take.round) {
      take.round = round;
      take.gaveWay = null;
    }
  });

  watch(
    () => transport.playing,
    (plays) => {
      if (!plays) end();
    },
  );

  function hear(note: PlayedNote, at: NonNullable<ReturnType<typeof place>>): void {
    if (!take || note.origin !== 'key' || note.songTicks === null) return;
    const ticks = (note.songTicks * at.tempoBpm) / songValues(at.document).tempoBpm;
    if (note.kind === 'off') {
      const press = take.held.get(note.noteId);
      take.held.delete(note.noteId);
      if (press) finish({ ...press, offTicks: ticks });
      return;
    }
    if (note.zoneId === '' || ticks < take.fromTicks - EARLY_TICKS) return;
    const onTicks = Math.max(take.fromTicks, ticks);
    const press = { zoneId: note.zoneId, key: note.key, onTicks, offTicks: null, velocity: note.velocity };
    makeRoom(onTicks, at);
    take.held.set(note.noteId, press);
    const sound = soundOf(press);
    if (sound && sound.wholeTicks !== null) {
      take.held.delete(note.noteId);
      finish(press);
    }
  }

  function soundOf({ zoneId, key }: PlayedPress) {
    const at = place();
    const placed = at && zonesOfPart(at.document, at.part).find(({ zone }) => zone.id === zoneId);
    return placed ? pressedSound(at.document, placed, key) : null;
  }

  function finish(press: PlayedPress): void {
    const at = place();
    const sound = soundOf(press);
    if (!take || !at || !sound) return;
    const { pullPercent, gridSwings, earlierMs } = rules.value;
    take.due.push(
      recordedStrip(
        press,
        { lengthTicks: at.lengthTicks, offsetTicks: at.offsetTicks, timing: partTiming(at.document, at.part) },
        {
          pull: pullPercent / 100,
          gridTicks: session.gridStepTicks,
          gridSwings,
          earlierTicks: (earlierMs / 60_000) * at.tempoBpm * 960,
        },
        sound,
      ),
    );
  }

  const joins = () => `take ${takes} round ${take?.round ?? 0}`;

  /** A home pattern is never edited: from the first change on a copy of it is recorded into. */
  function ownPattern(): string | null {
    if (!take) return null;
    if (!isHome(take.patternId)) return take.patternId;
    if (!project.run('record', copyPattern, { partId: take.partId, patternId: take.patternId }, joins())) return null;
    take.patternId = project.document!.parts[take.partId]!.activePatternId;
    return take.patternId;
  }

  /** Recording in its place: from the first key of a round on, what was there gives way. */
  function makeRoom(onTicks: number, at: NonNullable<ReturnType<typeof place>>): void {
    if (!take || rules.value.manner !== 'replace' || take.gaveWay) return;
    const patternId = ownPattern();
    if (patternId === null) return;
    const round = (onTicks - at.offsetTicks) / at.lengthTicks;
    const from = (round - Math.floor(round)) * at.lengthTicks - 1;
    const gone = eventsOf(project.document!, patternId).filter(({ positionTicks }) => positionTicks >= from);
    take.gaveWay = gone;
    const eventIds = gone.map(({ id }) => id);
    if (eventIds.length > 0) project.run('record', removeEvents, { patternId, eventIds }, joins());
  }

  /** Puts down what has passed. */
  function put(now: number): void {
    if (!take) return;
    const passed = take.due.filter(({ heardTicks }) => heardTicks < now);
    if (passed.length === 0) return;
    const patternId = ownPattern();
    if (patternId === null) return;
    take.due = take.due.filter(({ heardTicks }) => heardTicks >= now);
    if (project.run('record', placeEvents, { patternId, strips: passed.map(({ strip }) => strip) }, joins())) {
      count.value += passed.length;
    }
  }

  /** Ends the take: what is still held ends here, and what gave way further on comes back. */
  function end(): void {
    if (!take) return;
    const now = nowTicks(engine.status);
    for (const press of take.held.values()) finish({ ...press, offTicks: Math.max(now, press.onTicks + 1) });
    put(Infinity);
    restore(now);
    take = null;
    isOn.value = false;
  }

  function restore(now: number): void {
    const at = place();
    if (!take?.gaveWay || !at || isHome(take.patternId)) return;
    const there = at.document.patterns[take.patternId]?.events ?? {};
    const position = now - at.offsetTicks - take.round * at.lengthTicks;
    const strips = take.gaveWay
      .filter(({ id, positionTicks }) => positionTicks >= position && !Object.hasOwn(there, id))
      .map(({ id: _id, ...strip }) => strip);
    if (strips.length > 0) project.run('record', placeEvents, { patternId: take.patternId, strips }, joins());
  }

  return { isOn, count, sparse, rules, toggle };
});
