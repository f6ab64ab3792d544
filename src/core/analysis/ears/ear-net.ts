/**
 * A network of one hidden layer with rectified units and a softmax (C. Bishop, "Pattern Recognition and Machine Learning",
 * 2006, section 5.1); weights of one byte each, every row with a scale of its own.
 */
import { kernels } from '../../kernels/kernels.ts';
import { bytesOfBase64 } from '../../units/base64.ts';

/** As it is written by the learning scripts. */
export interface PackedNet {
  inputs: number;
  hidden: number;
  outputs: number;
  /** Weights of both layers as bytes, row by row. */
  weights: string;
  /** What inputs are told against: mean and spread of each; then scale and bias of every row. All 32-bit floats. */
  floats: string;
  /** Confidence is as good as it says with the logits divided by this. */
  temperature: number;
}

/** Smaller layers are done before the kernels have been asked. */
const WORTH_IT = 10_000;
/** Of the network that was asked last. */
let inMemory: Float64Array | null = null;

export class EarNet {
  readonly inputs: number;
  private readonly hidden: number;
  private readonly outputs: number;
  /** Whole numbers; as floats they are multiplied faster. */
  private readonly weights: Float64Array;
  private readonly floats: Float32Array;
  private readonly temperature: number;

  constructor({ inputs, hidden, outputs, weights, floats, temperature }: PackedNet) {
    [this.inputs, this.hidden, this.outputs, this.temperature] = [inputs, hidden, outputs, temperature];
    this.weights = Float64Array.from(new Int8Array(bytesOfBase64(weights).buffer));
    this.floats = new Float32Array(bytesOfBase64(floats).buffer);
  }

  /** Logarithms of the likelihood of each output. */
  logits(input: ArrayLike<number>): Float64Array {
    const { inputs, hidden, outputs, floats } = this;
    const told = new Float64Array(inputs);
    for (let i = 0; i < inputs; i++) told[i] = (input[i]! - floats[i]!) / floats[inputs + i]!;
    const middle = this.firstLayer(told);
    for (let i = 0; i < hidden; i++) if (middle[i]! < 0) middle[i] = 0;
    const out = this.layer(middle, outputs, hidden * inputs, 2 * inputs + 2 * hidden);
    const scaled = out.map((one) => one / this.temperature);
    const top = Math.max(...scaled);
    const sum = Math.log(scaled.reduce((all, one) => all + Math.exp(one - top), 0));
    return scaled.map((one) => one - top - sum);
  }

  /** A large one is summed by the kernels, whose memory holds the weights of the one that was asked last. */
  private firstLayer(told: Float64Array): Float64Array {
    const { inputs, hidden, floats } = this;
    const kernel = kernels();
    const columns = kernel.value('EAR_COLUMNS');
    if (inputs > columns || hidden > kernel.value('EAR_ROWS') || inputs * hidden < WORTH_IT)
      return this.layer(told, hidden, 0, 2 * inputs);
    if (inMemory !== this.weights) this.load(columns);
    kernel.floats('earInput', columns).set(told);
    kernel.sumEarRows(hidden);
    const sums = kernel.floats('earSums', hidden);
    const out = new Float64Array(hidden);
    const rowAt = 2 * inputs;
    for (let row = 0; row < hidden; row++) out[row] = sums[row]! * floats[rowAt + row]! + floats[rowAt + hidden + row]!;
    return out;
  }

  private load(columns: number): void {
    const { inputs, hidden, weights } = this;
    const kernel = kernels();
    const held = kernel.floats('earWeights', hidden * columns).fill(0);
    for (let row = 0; row < hidden; row++) held.set(weights.subarray(row * inputs, (row + 1) * inputs), row * columns);
    kernel.floats('earInput', columns).fill(0);
    inMemory = weights;
  }

  /** @param at where its weights begin @param rowAt where its scales begin; its biases come after them */
  private layer(input: Float64Array, rows: number, at: number, rowAt: number): Float64Array {
    const { weights, floats } = this;
    const columns = input.length;
    const out = new Float64Array(rows);
    for (let row = 0; row < rows; row++) {
      let sum = 0;
      for (let i = 0, w = at + row * columns; i < columns; i++, w++) sum += weights[w]! * input[i]!;
      out[row] = sum * floats[rowAt + row]! + floats[rowAt + rows + row]!;
    }
    return out;
  }
}
