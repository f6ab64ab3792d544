/** Listens to what is recorded: finds hits in it, and puts all of it on the disk while it comes. */
import { analyseSource, describeSlices } from '#core/analysis/analyse-source.ts';
import { CaptureSession, type CapturedTake, type CaptureEvent } from '#core/capture/capture-session.ts';
import { InputGaps } from '#core/capture/input-gaps.ts';
import { PEAK_HOP_FRAMES, peakLevels } from '#core/capture/peak-levels.ts';
import type { FromCapture, ToCapture } from './capture-protocol.ts';
import { addPiece, beginRecording } from './recordings.ts';

/** A crash loses no more than this. */
const PIECE_SECONDS = 0.5;

let session: CaptureSession | null = null;
/** Null where what comes is made here: it may be cut off as hard as it likes. */
let gaps: InputGaps | null = null;
let recordingId = '';
let sampleRate = 44_100;
let pieces = 0;
let seconds = 0;
let waiting: { left: Float32Array; right: Float32Array }[] = [];
let waitingFrames = 0;
let nextFrame: number | null = null;
let firstFrame = 0;
let writing: Promise<void> = Promise.resolve();
let hasFailed = false;

const send = (message: FromCapture, transfer: Transferable[] = []) => self.postMessage(message, { transfer });

/** What a hit is, and where it is: without the part of it that comes before. */
function sendTake(take: CapturedTake): void {
  const { sampleRate, channels, startFrame, endFrame } = take;
  const range = { startFrame, endFrame };
  const [facts] = describeSlices(analyseSource({ sampleRate, channels }), [range]);
  send(
    { type: 'take', take, facts: facts! },
    channels.map(({ buffer }) => buffer),
  );
}

function tell(all: readonly CaptureEvent[]): void {
  const events = all.filter((one) => one.kind !== 'take');
  if (events.length > 0) send({ type: 'events', events });
  for (const one of all) if (one.kind === 'take') sendTake(one.take);
}

/** What is recorded as it comes is seen, too. */
function levelsOf(left: Float32Array, right: Float32Array, fromFrame: number): CaptureEvent {
  const levelsDb = peakLevels(left, right);
  return { kind: 'levels', fromFrame, hopFrames: PEAK_HOP_FRAMES, levelsDb, isOpen: false };
}

function tellGap(atFrame: number, frames: number): void {
  send({ type: 'gap', atSeconds: atFrame / sampleRate, seconds: frames / sampleRate });
}

function failed(error: unknown): void {
  if (hasFailed) return;
  hasFailed = true;
  const isFull = error instanceof DOMException && error.name === 'QuotaExceededError';
  send({
    type: 'failed',
    reason: isFull ? 'the disk is full' : error instanceof Error ? error.message : String(error),
  });
}

/** Puts what has come onto the disk as one piece. */
function store(): void {
  if (waitingFrames === 0) return;
  const left = new Float32Array(waitingFrames);
  const right = new Float32Array(waitingFrames);
  let at = 0;
  for (const block of waiting) {
    left.set(block.left, at);
    right.set(block.right, at);
    at += block.left.length;
  }
  waiting = [];
  waitingFrames = 0;
  const number = pieces++;
  seconds += left.length / sampleRate;
  const until = seconds;
  writing = writing
    .then(() => addPiece(recordingId, number, left, right))
    .then(() => send({ type: 'stored', seconds: until }))
    .catch(failed);
}

self.onmessage = ({ data }: MessageEvent<ToCapture>) => {
  switch (data.type) {
    case 'begin':
      ({ recordingId, sampleRate } = data);
      session = data.finds ? new CaptureSession(sampleRate, data.settings) : null;
      gaps = data.mayBreakOff ? new InputGaps(sampleRate) : null;
      [pieces, seconds, waiting, waitingFrames, nextFrame, hasFailed] = [0, 0, [], 0, null, false];
      writing = beginRecording({
        id: recordingId,
        sampleRate,
        channels: data.settings.isStereo ? 2 : 1,
        at: Date.now(),
      }).catch(failed);
      break;
    case 'settings':
      session?.set(data.settings);
      break;
    case 'block': {
      const { left, right, startFrame } = data;
      if (nextFrame === null) firstFrame = startFrame;
      else if (startFrame !== nextFrame) tellGap(nextFrame - firstFrame, startFrame - nextFrame);
      for (const { atFrame, frames } of gaps?.feed(left, right) ?? []) tellGap(atFrame, frames);
      nextFrame = startFrame + left.length;
      tell(session ? session.feed([left, right]) : [levelsOf(left, right, startFrame)]);
      waiting.push({ left, right });
      waitingFrames += left.length;
      if (waitingFrames >= PIECE_SECONDS * sampleRate) store();
      break;
    }
    case 'end': {
      tell(session?.end() ?? []);
      store();
      const id = recordingId;
      void writing.then(() => {
        send({ type: 'ended', recordingId: id, seconds, firstFrame });
      });
    }
  }
};
