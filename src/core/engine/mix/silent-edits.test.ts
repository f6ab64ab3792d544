import { expect, it } from 'vitest';
import { channelFragment, momentAt } from '../../../../tests/support/mixing.ts';
import { noise } from '../../../../tests/support/signals.ts';
import { EFFECT_ROWS, type EffectKind } from '../../params/effects.ts';
import { packValues, type Row, type Rows } from '../../params/row.ts';
import { seededRandom, type Random } from '../../units/random.ts';
import type { EffectFragment } from '../plan/fragments.ts';
import { MixGraph } from './graph.ts';

const RATE = 44100;
const BLOCK = 128;
const SOUND = noise(40 * BLOCK, 5).map((sample) => 0.5 * sample);
const KINDS = (Object.keys(EFFECT_ROWS) as EffectKind[]).filter((kind) => kind !== 'paths');

/** Draws chains, and edits of them: effects come, go, change places, are bypassed, set, put into paths. */
class Chains {
  private count = 0;

  constructor(private readonly random: Random) {}

  below(count: number): number {
    return Math.floor(this.random() * count);
  }

  edited(chain: readonly EffectFragment[], isInPath = false): EffectFragment[] {
    const out = [...chain];
    const place = this.below(out.length);
    const effect = out[place];
    const what = this.below(6);
    if (!effect || what === 0) out.splice(this.below(out.length + 1), 0, this.effect(!isInPath && this.below(2) === 0));
    else if (what === 1) out.splice(place, 1);
    else if (what === 2) out.splice(this.below(out.length), 0, ...out.splice(place, 1));
    else if (what === 3) out[place] = { ...effect, bypassed: !effect.bypassed };
    else if (what === 4 && effect.paths) out[place] = { ...effect, paths: this.editedPaths(effect.paths) };
    else out[place] = this.set(effect);
    return out;
  }

  private editedPaths(paths: readonly (readonly EffectFragment[])[]): EffectFragment[][] {
    const place = this.below(2);
    return paths.map((path, index) => (index === place ? this.edited(path, true) : [...path]));
  }

  private effect(hasPaths: boolean): EffectFragment {
    const kind: EffectKind = hasPaths ? 'paths' : KINDS[this.below(KINDS.length)]!;
    const values = packValues(EFFECT_ROWS[kind] as Rows, {});
    const made = { id: `${kind}-${this.count++}`, kind, bypassed: false, sideChannelId: null, values };
    return hasPaths ? { ...made, paths: [[], []] } : made;
  }

  private set(effect: EffectFragment): EffectFragment {
    const rows: Row[] = Object.values(EFFECT_ROWS[effect.kind] as Rows);
    const slot = this.below(rows.length);
    const row = rows[slot]!;
    const values = effect.values.slice();
    if (row.kind === 'number') values[slot] = row.min + this.random() * (row.max - row.min);
    return { ...effect, values };
  }
}

function play(graph: MixGraph, fromFrame: number): Float32Array {
  const left = new Float32Array(SOUND.length);
  const right = new Float32Array(SOUND.length);
  const bus = graph.get('a')!;
  for (let at = 0; at < SOUND.length; at += BLOCK) {
    bus.left.set(SOUND.subarray(at, at + BLOCK));
    bus.right.set(SOUND.subarray(at, at + BLOCK));
    graph.mixInto({ left, right }, at, BLOCK, momentAt(fromFrame + at), 0);
  }
  return left;
}

const withChain = (effects: EffectFragment[]) => [channelFragment('a', { effects })];

it('whatever was changed before anything sounded, the first sound is that of the chain as it is then', () => {
  const strayed: string[] = [];
  for (let seed = 0; seed < 250; seed++) {
    const chains = new Chains(seededRandom(seed));
    const graph = new MixGraph(RATE);
    let chain: EffectFragment[] = [];
    let frame = 0;
    graph.update(withChain(chain), []);
    for (let edits = 1 + chains.below(8); edits > 0; edits--) {
      const out = { left: new Float32Array(BLOCK), right: new Float32Array(BLOCK) };
      // Some follow each other without a block between them, as what waited for the engine does.
      for (let blocks = Math.max(0, chains.below(7) - 2); blocks > 0; blocks--, frame += BLOCK) {
        graph.mixInto(out, 0, BLOCK, momentAt(frame), 0);
      }
      chain = chains.edited(chain);
      graph.update(withChain(chain), []);
    }
    const heard = play(graph, frame);
    const anew = new MixGraph(RATE);
    anew.update(withChain(chain), []);
    const wanted = play(anew, frame);
    const at = heard.findIndex((sample, i) => Math.abs(sample - wanted[i]!) > 1e-4);
    if (at >= 0) strayed.push(`seed ${seed}, frame ${at}: ${chain.map(({ id }) => id).join(', ')}`);
  }
  expect(strayed).toEqual([]);
});
