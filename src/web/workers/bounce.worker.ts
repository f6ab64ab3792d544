/** Renders a plan away from the page, piece by piece: to a file, to files of its stems, or only to know how loud it is. */
import { MixMeter, type MixLevels } from '#core/analysis/loudness.ts';
import { bounceInto, type BounceOptions } from '#core/engine/bounce.ts';
import type { RenderPlan } from '#core/engine/plan/fragments.ts';
import type { StereoBus } from '#core/engine/mix/effects/effect.ts';
import { openAudioStream } from '#core/formats/audio-stream.ts';
import { endingOf, type AudioStream, type MixEncoding } from '#core/formats/encode.ts';
import { BlobWriter } from './blob-writer.ts';
import './fast-flac.ts';
import './lossy-encoders.ts';
import { serve } from './rpc.ts';

export interface BounceRequest extends Omit<BounceOptions, 'onProgress' | 'blockFrames'> {
  plan: RenderPlan;
  /** Null: only the levels are wanted. */
  encoding: MixEncoding | null;
  /** Of the mix no file is wanted, only of its stems. */
  onlyStems?: boolean;
  /** Nobody asks how loud it is: that would take a fifth of the time. */
  isUnmeasured?: boolean;
}

export interface BounceResult {
  file: Blob | null;
  /** Null where nobody asked. */
  levels: MixLevels | null;
  /** In the order in which they were asked for. */
  stems: { file: Blob; peakDb: number }[];
}

/** Stretches of the picture of the levels. */
const STRETCHES = 220;
const CHANNELS = 2;
/** Frames that are handed on at once. */
const PIECE_FRAMES = 32_768;

/** One file on its way. */
class Writing {
  peak = 0;
  private readonly bytes = new BlobWriter();
  private left = new Float32Array(PIECE_FRAMES);
  private right = new Float32Array(PIECE_FRAMES);
  private count = 0;

  private constructor(
    private readonly stream: AudioStream,
    private readonly type: string,
  ) {}

  static async open(sampleRate: number, encoding: MixEncoding): Promise<Writing> {
    return new Writing(await openAudioStream(sampleRate, CHANNELS, encoding), `audio/${endingOf(encoding)}`);
  }

  take({ left, right }: StereoBus): void {
    for (let i = 0; i < left.length; i++) this.peak = Math.max(this.peak, Math.abs(left[i]!), Math.abs(right[i]!));
    if (this.count + left.length > PIECE_FRAMES) this.flush();
    this.left.set(left, this.count);
    this.right.set(right, this.count);
    this.count += left.length;
  }

  private flush(): void {
    this.bytes.write(this.stream.write([this.left.subarray(0, this.count), this.right.subarray(0, this.count)]));
    this.count = 0;
  }

  finish(): Blob {
    this.flush();
    const { head, rest } = this.stream.finish();
    this.bytes.write(rest);
    return this.bytes.finish(this.type, head);
  }
}

serve<BounceRequest>(async ({ plan, encoding, onlyStems = false, isUnmeasured = false, ...options }, job) => {
  const { sampleRate } = plan;
  const meter = isUnmeasured ? null : new MixMeter(sampleRate, CHANNELS);
  const mix = encoding === null || onlyStems ? null : await Writing.open(sampleRate, encoding);
  const stems: Writing[] = [];
  for (const _ of options.stems ?? []) stems.push(await Writing.open(sampleRate, encoding ?? 'wav24'));
  await bounceInto(plan, { ...options, blockFrames: 4096, onProgress: job.progress }, (block, ofStems) => {
    meter?.push([block.left, block.right]);
    mix?.take(block);
    for (const [place, stem] of ofStems.entries()) stems[place]!.take(stem);
  });
  const result: BounceResult = {
    file: mix?.finish() ?? null,
    levels: meter?.finish(STRETCHES) ?? null,
    stems: stems.map((stem) => ({ file: stem.finish(), peakDb: 20 * Math.log10(stem.peak) })),
  };
  return { result };
});
