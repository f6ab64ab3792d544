import FFT from 'fft.js';
import { describe, expect, it } from 'vitest';
import { kernels } from '#core/kernels/kernels.ts';
import { prepareSincTables, sincTable } from '#core/dsp/sinc.ts';
import { KERNELS_BASE64 } from '#core/kernels/kernels-wasm.ts';
import { MAX_WINDOW, PhaseVocoder } from '#core/stretch/phase-vocoder.ts';
import { seededRandom } from '#core/units/random.ts';
import { compileKernels } from '../../scripts/build-kernels.mjs';

describe('the kernels', () => {
  it('that are shipped are what their sources give', async () => {
    const compiled = Buffer.from(await compileKernels());
    expect(compiled.equals(Buffer.from(KERNELS_BASE64, 'base64')), 'run "node scripts/build-kernels.mjs"').toBe(true);
  });

  it('are ready before sound runs: compiling them takes a few milliseconds at most', () => {
    expect(KERNELS_BASE64.length).toBeLessThan(15_000);
    expect(new WebAssembly.Module(Buffer.from(KERNELS_BASE64, 'base64'))).toBeInstanceOf(WebAssembly.Module);
  });

  it('have room for all tables that the core builds, one behind the other', () => {
    prepareSincTables();
    const room = kernels().floats('sincTables', kernels().value('SINC_TABLES'));
    const last = sincTable(16);
    expect(last.address + last.values.byteLength).toBeLessThanOrEqual(room.byteOffset + room.byteLength);
    expect(sincTable(2 ** (1 / 12)).address).toBe(sincTable(1).address + sincTable(1).values.byteLength);
    expect(sincTable(1).values.length).toBe((sincTable(1).phases + 1) * 2 * sincTable(1).reach);
  });

  it('have places that do not overlap', () => {
    const kernel = kernels();
    const samples = kernel.value('BAND_SAMPLES');
    const places = [
      kernel.floats('bandInput', samples + 32),
      kernel.floats('bandQuarter', samples / 4 + 16),
      kernel.doubles('bandSections', 24),
      kernel.doubles('bandSums', 4 * kernel.value('BAND_HOPS')),
      kernel.floats('sincTables', kernel.value('SINC_TABLES')),
      ...['sincWindowLeft', 'sincWindowRight'].map((name) => kernel.floats(name, kernel.value('SINC_WINDOW'))),
      ...['sincOutLeft', 'sincOutRight'].map((name) => kernel.floats(name, kernel.value('SINC_RUN'))),
      kernel.floats('riseEnergies', kernel.value('RISE_HOPS') + kernel.value('RISE_BACK') + kernel.value('RISE_AHEAD')),
      ...['Table', 'Window'].map((name) =>
        kernel.floats(`resample${name}`, kernel.value(`RESAMPLE_${name.toUpperCase()}`)),
      ),
      kernel.floats('resampleOut', kernel.value('RESAMPLE_RUN')),
      ...['overLeft', 'overRight'].map((name) => kernel.floats(name, kernel.value('OVER_RUN'))),
      kernel.doubles('overPairs', 2 * kernel.value('OVER_RATE') * kernel.value('OVER_RUN')),
      kernel.doubles('overState', 8 * (kernel.value('OVER_STEEP') + kernel.value('OVER_EASY'))),
      kernel.doubles('overCoefficients', 2 * (kernel.value('OVER_STEEP') + kernel.value('OVER_EASY'))),
      kernel.doubles('bendTable', 2 * (kernel.value('BEND_END') * kernel.value('BEND_STEPS') + 2)),
      kernel.doubles('bendLast', 4),
      kernel.floats('networkCells', kernel.value('NETWORK_LINES') * kernel.value('NETWORK_RUN')),
      kernel.doubles('networkSides', 2 * kernel.value('NETWORK_RUN')),
      ...['networkLows', 'networkGains'].map((name) => kernel.doubles(name, kernel.value('NETWORK_LINES'))),
      kernel.doubles('spectrumTurns', 2 * kernel.value('SPECTRUM_SIZE')),
      ...['vocoderLeft', 'vocoderRight'].map((name) => kernel.floats(name, MAX_WINDOW * 1.25)),
      ...['vocoderOutLeft', 'vocoderOutRight'].map((name) => kernel.floats(name, MAX_WINDOW)),
      ...['vocoderInput', 'vocoderSpectrum', 'vocoderWork'].map((name) => kernel.doubles(name, 2 * MAX_WINDOW)),
      kernel.doubles('vocoderWindow', MAX_WINDOW),
      kernel.bytes('vocoderBandOfBin', MAX_WINDOW / 2 + 1),
      ...['vocoderGains', 'vocoderPowers'].map((name) => kernel.doubles(name, kernel.value('VOCODER_BANDS'))),
      ...['riseShort', 'riseLong', 'riseTotal'].map((name) => kernel.floats(name, kernel.value('RISE_HOPS'))),
    ].sort((a, b) => a.byteOffset - b.byteOffset);
    places.slice(1).forEach((place, index) => {
      const before = places[index]!;
      expect(before.byteOffset + before.byteLength).toBeLessThanOrEqual(place.byteOffset);
    });
    expect(() => kernel.value('nowhere')).toThrow('the kernels have no number "nowhere"');
  });

  it.each([16, 32, 256, 2048, 8192, 16384])('transform %i numbers as the package fft.js does', (size) => {
    const stereo = [new Float32Array(size), new Float32Array(size)] as const;
    new PhaseVocoder(16, 1).bandPowers(stereo, 0); // fills the table of turns
    const kernel = kernels();
    const random = seededRandom(size);
    const input = kernel.doubles('vocoderInput', 2 * size);
    for (let i = 0; i < input.length; i++) input[i] = random() * 2 - 1;
    const fft = new FFT(size);
    const wanted = fft.createComplexArray();
    fft.transform(wanted, Array.from(input));
    const [from, to, work] = ['vocoderInput', 'vocoderSpectrum', 'vocoderWork'].map((name) => kernel.value(name));
    kernel.fourierTransform(from!, to!, work!, size);
    const found = kernel.doubles('vocoderSpectrum', 2 * size);
    const furthest = found.reduce((most, value, i) => Math.max(most, Math.abs(value - wanted[i]!)), 0);
    expect(furthest).toBeLessThan(1e-11);
  });
});
