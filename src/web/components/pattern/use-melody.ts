/** The notes of one sound as rows, a semitone each: which they are, how they are called, and how they sound. */
import { computed, ref } from 'vue';
import type { PatternEvent } from '#core/document/schema.ts';
import type { PlacedZone } from '#core/queries/zones.ts';
import { notes } from '../../audio/services.ts';
import { keyName } from '../../canvas/key-names.ts';
import { useSession } from '../../stores/document/session.ts';
import { useTransport } from '../../stores/sound/transport.ts';
import type { RowHead } from './rows-picture.ts';

/** Rows above and below what is written, and above and below the root at least. */
const MARGIN = 2;
const LEAST = 12;
/** A strip may be tuned by so much. */
const MOST = 48;
const BLACK = [1, 3, 6, 8, 10];
const MIDDLE_NOTE = 60;
const HEARD_MS = 400;

const semitonesOfEvent = ({ values }: PatternEvent) => Math.round((values.tuneCents ?? 0) / 100);

export function useMelody() {
  const session = useSession();
  const transport = useTransport();
  const chosenId = ref<string | null>(null);

  const playable = computed(() => session.zones.filter(({ zone }) => zone.plays.kind === 'slice'));
  /** What was chosen here; else what is chosen, what lies on several keys, or the first that the pattern plays. */
  const placed = computed<PlacedZone | null>(() => {
    const all = playable.value;
    const byId = (id: string | null | undefined) => all.find(({ zone }) => zone.id === id);
    const isSpread = ({ keys }: PlacedZone) => keys !== null && keys.high > keys.low;
    return (
      byId(chosenId.value) ??
      byId(session.selectedEvents[0]?.zoneId) ??
      byId(session.selectedZones[0]?.zone.id) ??
      all.find(isSpread) ??
      byId(session.events[0]?.zoneId) ??
      all[0] ??
      null
    );
  });
  const sounds = computed(() =>
    playable.value.map(({ zone, at, keys }) => ({
      value: zone.id,
      words: `${at.index + 1} ${at.label}${keys && keys.high > keys.low ? ', spread' : ''}`,
    })),
  );
  const root = computed(() => placed.value?.keys?.root ?? placed.value?.at.slice.midi ?? MIDDLE_NOTE);
  const written = computed(() => session.events.filter(({ zoneId }) => zoneId === placed.value?.zone.id));
  const rowIds = computed(() => {
    const all = written.value.map(semitonesOfEvent);
    const high = Math.min(MOST, Math.max(LEAST, ...all.map((one) => one + MARGIN)));
    const low = Math.max(-MOST, Math.min(-LEAST, ...all.map((one) => one - MARGIN)));
    return Array.from({ length: high - low + 1 }, (_, row) => String(high - row));
  });
  const chosen = computed(() => new Set(session.eventIds));
  const selectedRows = computed(
    () => new Set(written.value.flatMap((one) => (chosen.value.has(one.id) ? [String(semitonesOfEvent(one))] : []))),
  );

  function rowOf(event: PatternEvent): string | null {
    return event.zoneId === placed.value?.zone.id ? String(semitonesOfEvent(event)) : null;
  }

  function headOf(rowId: string): RowHead {
    const semitones = Number(rowId);
    const note = root.value + semitones;
    const isBlack = BLACK.includes(((note % 12) + 12) % 12);
    const words = semitones === 0 ? 'as it is' : `${semitones > 0 ? '+' : '−'}${Math.abs(semitones)} st`;
    return { words, key: keyName(note), placed: semitones === 0 ? placed.value : null, isBlack };
  }

  /** Plays a note while the song stands: on its key, where the sound lies there. */
  function hear(rowId: string): void {
    const { part } = session;
    const zone = placed.value;
    if (!zone || !part || transport.playing) return;
    const note = root.value + Number(rowId);
    if (!zone.keys || note < zone.keys.low || note > zone.keys.high) {
      transport.playZone(zone.zone.id);
      return;
    }
    const noteId = notes.press(part.id, note, 1);
    setTimeout(() => notes.release(noteId), HEARD_MS);
  }

  return {
    placed,
    sounds,
    rowIds,
    selectedRows,
    rowOf,
    headOf,
    hear,
    choose: (id: string) => (chosenId.value = id),
    /** How much higher than the root a row is; null for what is no row. */
    semitonesOf: (rowId: string) => Number(rowId),
  };
}
