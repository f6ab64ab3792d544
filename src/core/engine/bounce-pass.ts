/**
 * The renderers of one bounce, and the buffers that their blocks go into. One plays the mix and the stems of whole channels;
 * stems of some sounds of a part come from others beside it, which play all of it and let only those be heard: whatever else
 * sounds still chokes them, ducks them, and takes their turn.
 */
import type { StereoBus } from './mix/effects/effect.ts';
import type { Renderer } from './renderer.ts';

const SILENCE = 1e-5;

/** What a channel gives to the one that it is led to. */
export interface BouncedStem {
  channelId: string;
  /** Of these sounds of a part alone, through all that the channel does to them. */
  only?: { partId: string; zoneIds: readonly string[] } | undefined;
}

export class BouncePass {
  /** The one that plays the mix. */
  readonly renderer: Renderer;
  private readonly others: { renderer: Renderer; own: StereoBus }[];
  private readonly mixBus: StereoBus;
  private readonly stemBuses: StereoBus[];

  /** @param newRenderer makes one that plays from the start of what is bounced */
  constructor(
    stems: readonly BouncedStem[],
    readonly blockFrames: number,
    newRenderer: () => Renderer,
  ) {
    const made = () => ({ left: new Float32Array(blockFrames), right: new Float32Array(blockFrames) });
    this.renderer = newRenderer();
    this.mixBus = made();
    this.stemBuses = stems.map(made);
    const whole = stems.filter(({ only }) => !only);
    for (const stem of whole) this.renderer.keepStem(stem.channelId, this.stemBuses[stems.indexOf(stem)]!);
    this.others = stemRounds(stems, this.renderer.hasListeners).map((round) => {
      const renderer = newRenderer();
      const heard = new Map(round.map(({ only }) => [only!.partId, new Set(only!.zoneIds)]));
      renderer.hearOnly((partId, zoneId) => heard.get(partId)?.has(zoneId) ?? true);
      for (const stem of round) renderer.keepStem(stem.channelId, this.stemBuses[stems.indexOf(stem)]!);
      return { renderer, own: made() };
    });
  }

  render(count: number): void {
    const buses = [this.mixBus, ...this.stemBuses, ...this.others.map(({ own }) => own)];
    for (const bus of buses) {
      bus.left.fill(0, 0, count);
      bus.right.fill(0, 0, count);
    }
    for (const { renderer, own } of [{ renderer: this.renderer, own: this.mixBus }, ...this.others]) {
      renderer.process(own.left.subarray(0, count), own.right.subarray(0, count), count);
    }
  }

  letRingOut(): void {
    for (const { renderer } of [this, ...this.others]) renderer.letRingOut();
  }

  mix(count: number): StereoBus {
    return upTo(this.mixBus, count);
  }

  stems(count: number): StereoBus[] {
    return this.stemBuses.map((one) => upTo(one, count));
  }

  /** Does the block sound anywhere, and up to where? */
  isLoud(count: number): boolean {
    const { left, right } = this.mixBus;
    for (let i = 0; i < count; i++) if (Math.abs(left[i]!) + Math.abs(right[i]!) > SILENCE) return true;
    return false;
  }

  /** What would sound for ever fades. @param from and to of what the block begins and ends with */
  fade(count: number, from: number, to: number): void {
    for (const { left, right } of [this.mixBus, ...this.stemBuses]) {
      for (let i = 0; i < count; i++) {
        const gain = Math.max(0, from + ((to - from) * i) / count);
        left[i]! *= gain;
        right[i]! *= gain;
      }
    }
  }
}

/**
 * Which stems of some sounds can come from one renderer: of each part one, as long as no channel listens to another.
 * @param hasListeners what is left out of one channel would be missed in another
 */
function stemRounds(stems: readonly BouncedStem[], hasListeners: boolean): BouncedStem[][] {
  const rounds: BouncedStem[][] = [];
  for (const stem of stems) {
    if (!stem.only) continue;
    const { partId } = stem.only;
    const free = hasListeners ? undefined : rounds.find((round) => round.every(({ only }) => only!.partId !== partId));
    if (free) free.push(stem);
    else rounds.push([stem]);
  }
  return rounds;
}

function upTo({ left, right }: StereoBus, count: number): StereoBus {
  return { left: left.subarray(0, count), right: right.subarray(0, count) };
}
