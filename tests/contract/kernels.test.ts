import { describe, expect, it } from 'vitest';
import { kernels } from '#core/kernels/kernels.ts';
import { SINC_REACH, sincTable } from '#core/dsp/sinc.ts';
import { KERNELS_BASE64 } from '#core/kernels/kernels-wasm.ts';
import { compileKernels } from '../../scripts/build-kernels.mjs';

describe('the kernels', () => {
  it('that are shipped are what their sources give', async () => {
    const compiled = Buffer.from(await compileKernels());
    expect(compiled.equals(Buffer.from(KERNELS_BASE64, 'base64')), 'run "node scripts/build-kernels.mjs"').toBe(true);
  });

  it('are ready before sound runs: compiling them takes a few milliseconds at most', () => {
    expect(KERNELS_BASE64.length).toBeLessThan(8_000);
    expect(new WebAssembly.Module(Buffer.from(KERNELS_BASE64, 'base64'))).toBeInstanceOf(WebAssembly.Module);
  });

  it('read tables of the shape that the core builds', () => {
    const length = kernels().value('SINC_TABLE_LENGTH');
    expect(length).toBe((1024 + 1) * 2 * SINC_REACH);
    // The table of the next lower cutoff lies right behind the first.
    expect(sincTable(1 / 0.84).address - sincTable(1).address).toBe(4 * length);
  });

  it('have places that do not overlap', () => {
    const kernel = kernels();
    const samples = kernel.value('BAND_SAMPLES');
    const places = [
      kernel.floats('bandInput', samples + 32),
      kernel.floats('bandQuarter', samples / 4 + 16),
      kernel.doubles('bandSections', 24),
      kernel.doubles('bandSums', 4 * kernel.value('BAND_HOPS')),
      kernel.floats('sincTables', 8 * kernel.value('SINC_TABLE_LENGTH')),
      ...['sincWindowLeft', 'sincWindowRight'].map((name) => kernel.floats(name, kernel.value('SINC_WINDOW'))),
      ...['sincOutLeft', 'sincOutRight'].map((name) => kernel.floats(name, kernel.value('SINC_RUN'))),
      kernel.floats('riseEnergies', kernel.value('RISE_HOPS') + kernel.value('RISE_BACK') + kernel.value('RISE_AHEAD')),
      ...['riseShort', 'riseLong', 'riseTotal'].map((name) => kernel.floats(name, kernel.value('RISE_HOPS'))),
    ].sort((a, b) => a.byteOffset - b.byteOffset);
    places.slice(1).forEach((place, index) => {
      const before = places[index]!;
      expect(before.byteOffset + before.byteLength).toBeLessThanOrEqual(place.byteOffset);
    });
    expect(() => kernel.value('nowhere')).toThrow('the kernels have no number "nowhere"');
  });
});
