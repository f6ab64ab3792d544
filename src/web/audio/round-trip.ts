/** How long sound takes that goes out and comes in again: a click is sent round. */
import { findTakes } from '#core/capture/find-takes.ts';
import { joined } from '#core/dsp/joined.ts';
import type { CaptureBlock } from '../workers/capture-protocol.ts';
import type { CaptureInput, InputChoice } from './capture-input.ts';
import type { EngineHost } from './engine-host.ts';

/** Silence before it, for the floor to be known. */
const BEFORE_SECONDS = 1;
const LISTEN_SECONDS = 2.5;
/** A busy machine's sound runs behind the wall's clock: it is waited for, but not for ever. */
const MOST_WAITED_SECONDS = 12;
/** What came a little before it was sent is the same click, found at the foot of its rise. */
const EARLY_SECONDS = 0.01;

/**
 * @returns milliseconds, tenths; null when it did not come back
 * @throws AppError `input.refused`, `input.missing`
 */
export async function roundTripMs(
  engine: EngineHost,
  input: CaptureInput,
  choice: InputChoice,
): Promise<number | null> {
  const blocks: CaptureBlock[] = [];
  const sampleRate = await input.open(
    choice,
    (block) => blocks.push(block),
    () => undefined,
  );
  try {
    const { context } = await engine.graph();
    const sentAt = context.currentTime + BEFORE_SECONDS;
    sendClick(context, input, sentAt);
    await untilHeard(blocks, LISTEN_SECONDS * sampleRate);
    await input.close();
    const firstFrame = blocks[0]?.startFrame ?? 0;
    const mono = joined(blocks.map(({ left, right }) => left.map((x, i) => (x + right[i]!) / 2)));
    const { takes } = findTakes({ sampleRate, channels: [mono] });
    const late = takes
      .map(({ startFrame }) => (firstFrame + startFrame) / sampleRate - sentAt)
      .find((seconds) => seconds > -EARLY_SECONDS);
    return late === undefined ? null : Math.max(0, Math.round(late * 10_000) / 10);
  } finally {
    await input.close();
  }
}

/** Waits until so many frames have come in: by the clock of the sound itself. */
async function untilHeard(blocks: readonly CaptureBlock[], frames: number): Promise<void> {
  const giveUpAt = performance.now() + MOST_WAITED_SECONDS * 1000;
  const heard = () => {
    const last = blocks.at(-1);
    return last ? last.startFrame + last.left.length - blocks[0]!.startFrame : 0;
  };
  while (heard() < frames && performance.now() < giveUpAt) await new Promise((resolve) => setTimeout(resolve, 100));
}

function sendClick(context: AudioContext, input: CaptureInput, at: number): void {
  const tone = context.createOscillator();
  const gain = context.createGain();
  tone.frequency.value = 1500;
  gain.gain.setValueAtTime(0.8, at);
  gain.gain.exponentialRampToValueAtTime(0.001, at + 0.03);
  tone.connect(gain).connect(context.destination);
  // To the box, and to what is heard here, there is no cable.
  input.hearToo(gain);
  tone.start(at);
  tone.stop(at + 0.05);
}
