/**
 * The clock of other gear. Out: the song's clock and the notes of a part, timed by where the audio thread is and sent a
 * little ahead with their times. In: another's clock is followed; the tempo goes into the project, what keeps the place to
 * the audio thread alone.
 */
import { useStorage } from '@vueuse/core';
import { defineStore } from 'pinia';
import { computed, onScopeDispose, reactive, ref, shallowRef, watch } from 'vue';
import { ClockFollower, steer } from '#core/midi/clock-in.ts';
import { ClockSender } from '#core/midi/clock-out.ts';
import { midiBytes, type MidiMessage } from '#core/midi/messages.ts';
import { TimeOffset } from '#core/midi/time-offset.ts';
import { slotsOf } from '#core/params/row.ts';
import { SONG_ROWS } from '#core/params/tables.ts';
import { setValue } from '#core/project/commands/values.ts';
import { ownTempoBpm } from '#core/queries/loops.ts';
import { songValues } from '#core/queries/values.ts';
import { heardNotes } from '#core/takeaway/heard-notes.ts';
import { patternToWrite } from '#core/takeaway/pattern-to-write.ts';
import type { EngineStatus } from '#core/engine/messages.ts';
import { engine } from '../../audio/services.ts';
import { midiOutputs, type MidiOutput } from '../../devices/midi.ts';
import { MACHINE_ID, MACHINE_NAME, StandInMachine } from '../../devices/stand-in-machine.ts';
import { useDevices } from '../keys/devices.ts';
import { useNotices } from '../frame/notices.ts';
import { useProject } from '../document/project.ts';
import { useTransport } from './transport.ts';

/** Messages go out so far ahead of their times; the song begins so much later where others are told of it. */
const AHEAD_MS = 90;
const LEAD_MS = 120;
const TEMPO_SLOT = slotsOf(SONG_ROWS).tempoBpm;
/** The tempo of the other is that of the project when it has been so for so long. */
const SETTLED_MS = 700;
/** A tempo so near is the same. */
const SAME_SHARE = 0.0005;
/** A change smaller than this is not worth a word to the audio thread. */
const LEAST_CHANGE = 0.00004;
const NOTHING = '';
/** So long after it has begun it is looked how late that was; and it is put elsewhere no more often. */
const FIRST_LOOK_MS = 120;
const JUMPS_APART_MS = 400;
const MOST_LATE_MS = 400;

interface ClockSettings {
  /** Names of the outputs that get the clock. */
  sendTo: string[];
  delayMs: number;
  /** The output that gets the notes of a part, and on which channel. */
  notesTo: string;
  notesOf: string;
  notesChannel: number;
  /** The device whose clock is followed. */
  follow: string;
  /** By how much the own song is to be earlier than the clock that comes. */
  earlierMs: number;
}
const USUAL: ClockSettings = {
  sendTo: [],
  delayMs: 0,
  notesTo: NOTHING,
  notesOf: NOTHING,
  notesChannel: 1,
  follow: NOTHING,
  earlierMs: 0,
};

export const useClock = defineStore('clock', () => {
  const project = useProject();
  const transport = useTransport();
  const devices = useDevices();
  const notices = useNotices();
  const settings = useStorage<ClockSettings>('yappa.clock', { ...USUAL }, undefined, { mergeDefaults: true });
  const sender = new ClockSender();
  const offset = new TimeOffset();
  const follower = shallowRef(new ClockFollower());
  /** How the clock that comes stands, for those who look: renewed now and then. */
  const state = reactive({ tempoBpm: null as number | null, unsteadyMs: 0, isRunning: false, missingMs: 0 });

  const isMachineOpen = ref(false);
  let machinePort: ReturnType<typeof devices.plugIn> | null = null;
  const machine = new StandInMachine((bytes, timeStamp) => machinePort?.send(bytes, timeStamp));
  const machineOutput: MidiOutput = {
    id: MACHINE_ID,
    name: MACHINE_NAME,
    send: (bytes, timeStamp) => machine.hear(bytes, timeStamp),
  };
  const outputs = computed(() => [...midiOutputs.value, ...(isMachineOpen.value ? [machineOutput] : [])]);
  const outputOf = (name: string) => outputs.value.find((one) => one.name === name);

  function openMachine(): void {
    machinePort ??= devices.plugIn({ id: MACHINE_ID, name: MACHINE_NAME });
    isMachineOpen.value = true;
  }

  function closeMachine(): void {
    machine.stop();
    machinePort?.unplug();
    machinePort = null;
    isMachineOpen.value = false;
  }

  /** The song at the time of a report, by the clock of the page. */
  function momentOf(status: EngineStatus, tempoBpm: number) {
    const now = performance.now();
    offset.note(status.timeSeconds * 1000, now);
    const { playing, order, positionTicks } = status;
    return {
      isPlaying: playing,
      order,
      ticks: positionTicks,
      atMs: offset.toOwn(status.timeSeconds * 1000)!,
      tempoBpm,
    };
  }

  /** Up to where notes have gone out, in ticks of the part; and those that are still to be let go. */
  let notesUntil = -Infinity;
  let notesOrder = -1;
  /** The tempo that the audio thread goes by now: while another clock is followed it is not quite that of the project. */
  let heardTempo = 0;

  const stopListening = engine.onStatus((status) => {
    const { document } = project;
    if (!document) return;
    const { sendTo, notesTo, delayMs } = settings.value;
    const tempo = isFollowing() && heardTempo > 0 ? heardTempo : status.tempoBpm;
    const moment = momentOf(status, tempo);
    if (isFollowing()) followNow(moment.ticks, moment.atMs);
    const targets = sendTo.flatMap((name) => outputOf(name) ?? []);
    if (targets.length > 0) {
      for (const { message, atMs } of sender.advance(moment, performance.now() + AHEAD_MS)) {
        for (const output of targets) output.send(midiBytes(message), atMs + delayMs);
      }
    }
    const notes = notesTo === NOTHING ? undefined : outputOf(notesTo);
    if (notes) sendNotes(notes, moment);
  });

  function sendNotes(
    output: MidiOutput,
    { isPlaying, order, ticks, atMs, tempoBpm }: ReturnType<typeof momentOf>,
  ): void {
    const { document } = project;
    const part = document?.parts[settings.value.notesOf];
    const told = engine.status.parts.find(({ partId }) => partId === part?.id);
    const patternId = told?.playing ?? part?.activePatternId ?? '';
    if (!isPlaying || !document || !part || patternId === '') {
      notesUntil = -Infinity;
      return;
    }
    if (order !== notesOrder) notesUntil = -Infinity;
    notesOrder = order;
    const ownTempo = ownTempoBpm(document, part) ?? tempoBpm;
    const perMs = (ownTempo * 960) / 60_000;
    const now = told?.positionTicks ?? ticks * (ownTempo / tempoBpm);
    const until = now + (performance.now() + AHEAD_MS - atMs) * perMs;
    const from = Math.max(notesUntil, now);
    notesUntil = until;
    const { starts, rounds } = patternToWrite(document, part, patternId, { asHeard: true });
    const channel = settings.value.notesChannel - 1;
    const send = (message: MidiMessage, at: number) =>
      output.send(midiBytes(message), atMs + (at - now) / perMs + settings.value.delayMs);
    const stretch = { fromTicks: from, untilTicks: until, anchorTicks: 0 };
    for (const { key, velocity, positionTicks: at, lengthTicks } of heardNotes(starts, rounds, stretch)) {
      send({ kind: 'note-on', channel, key, velocity: velocity * 127 }, at);
      send({ kind: 'note-off', channel, key, velocity: 64 }, at + lengthTicks * 0.98);
    }
  }

  // Who is sent the start is to be told before it is heard.
  watch(
    () => outputs.value.some(({ name }) => settings.value.sendTo.includes(name)),
    (isSending) => (transport.leadMs = isSending ? LEAD_MS : 0),
    { immediate: true },
  );
  const isFollowing = () => settings.value.follow !== NOTHING;
  let begunAtMs = 0;
  let lateMs = 0;
  let isLateKnown = false;
  let settledSince = 0;
  let settledTempo = 0;
  let wasRunning = false;

  function followNow(ownTicks: number, atMs: number): void {
    const { document } = project;
    const other = follower.value;
    const tempoBpm = other.tempoBpm;
    if (!document || tempoBpm === null) return;
    settle(tempoBpm);
    const wanted = other.ticksAt(atMs + settings.value.earlierMs);
    // What the audio thread has not begun yet is not to be corrected: it still tells of the place before.
    const { playing, order } = engine.status;
    const isBegun = transport.playing && playing && order === transport.orderNow();
    if (wanted === null || project.viewing || !isBegun) return;
    const sinceBegunMs = performance.now() - begunAtMs;
    if (!isLateKnown && sinceBegunMs > FIRST_LOOK_MS) {
      isLateKnown = true;
      // What it takes from here to the audio thread: it begins so much further on the next time.
      const late = ((wanted - ownTicks) / 960 / tempoBpm) * 60_000;
      lateMs = Math.max(0, Math.min(MOST_LATE_MS, lateMs + late));
    }
    const way = steer(ownTicks, wanted, tempoBpm);
    if (way.kind === 'tempo') tellTempo(way.tempoBpm);
    else if (sinceBegunMs > JUMPS_APART_MS) begin();
  }

  /** Puts the own song where the other's is by the time that it is heard. */
  function begin(): void {
    const ticks = follower.value.ticksAt(performance.now() + lateMs + settings.value.earlierMs);
    if (ticks === null) return;
    begunAtMs = performance.now();
    isLateKnown = false;
    heardTempo = 0;
    void transport.play(Math.max(0, ticks));
  }

  /** Starts and stops with the other; it waits until a tempo is known. */
  function runAlong(): void {
    const other = follower.value;
    if (wasRunning && !other.isRunning) {
      wasRunning = false;
      transport.stop();
    }
    const wanted = other.ticksAt(performance.now() + settings.value.earlierMs);
    if (wanted === null || wanted < 0 || wasRunning || project.viewing) return;
    wasRunning = true;
    begin();
  }

  /** Renews what is told of the clock that comes. */
  function look(): void {
    const { tempoBpm, unsteadyMs, isRunning } = follower.value;
    Object.assign(state, { tempoBpm, unsteadyMs, isRunning, missingMs: follower.value.missingMs(performance.now()) });
  }

  function tellTempo(tempoBpm: number): void {
    const within = Math.max(SONG_ROWS.tempoBpm.min, Math.min(SONG_ROWS.tempoBpm.max, tempoBpm));
    if (Math.abs(within / heardTempo - 1) < LEAST_CHANGE) return;
    heardTempo = within;
    engine.send({ type: 'values', values: [{ kind: 'song', id: '', slot: TEMPO_SLOT, value: within }] });
  }

  /** The project takes the tempo that has been the same for a while: what is stretched is made for it. */
  function settle(tempoBpm: number): void {
    const rounded = Math.round(tempoBpm * 100) / 100;
    const now = performance.now();
    if (Math.abs(rounded / settledTempo - 1) > 4 * SAME_SHARE) {
      settledTempo = rounded;
      settledSince = now;
    }
    const { tempoBpm: own } = songValues(project.document!);
    if (now - settledSince < SETTLED_MS || Math.abs(rounded / own - 1) < 2 * SAME_SHARE || project.isHeld()) return;
    const to = Math.max(SONG_ROWS.tempoBpm.min, Math.min(SONG_ROWS.tempoBpm.max, rounded));
    if (to === own) return;
    const owners = [{ kind: 'song' as const }];
    project.run(
      `tempo of ${settings.value.follow}`,
      setValue,
      { owners, param: 'tempoBpm', change: { to } },
      'followed tempo',
    );
    heardTempo = 0;
  }

  const untake = devices.takeFirst({
    take: (device, message, timeStamp = performance.now()) => {
      const isOfClock = ['clock', 'start', 'stop', 'continue', 'position', 'reset'].includes(message.kind);
      if (isOfClock && device.name === settings.value.follow) {
        follower.value.take(message, timeStamp);
        runAlong();
      }
      return isOfClock;
    },
    gone: ({ name }) => {
      if (name === settings.value.follow) notices.info(`The clock of ${name} is gone: the song plays on at its tempo.`);
    },
  });
  onScopeDispose(() => {
    stopListening();
    untake();
  });

  function follow(name: string): void {
    settings.value.follow = name;
    follower.value = new ClockFollower();
    wasRunning = false;
    settledTempo = 0;
    heardTempo = 0;
    Object.assign(state, { tempoBpm: null, unsteadyMs: 0, isRunning: false, missingMs: 0 });
    // The own tempo again.
    if (name === NOTHING && project.document) tellTempo(songValues(project.document).tempoBpm);
  }

  function toggleOutput(name: string): void {
    const { sendTo } = settings.value;
    const isOn = sendTo.includes(name);
    if (isOn) for (const { message } of sender.stop(performance.now())) outputOf(name)?.send(midiBytes(message));
    settings.value.sendTo = isOn ? sendTo.filter((one) => one !== name) : [...sendTo, name];
  }

  return { settings, state, look, outputs, machine, isMachineOpen, openMachine, closeMachine, follow, toggleOutput };
});
