/** The first layer of the network that hears what slices are: see `analysis/ears/ear-net.ts`. */
import { sumOfLanes } from './lanes';

/** Most numbers that it is told (a multiple of four), and most sums. */
export const EAR_COLUMNS: i32 = 660;
export const EAR_ROWS: i32 = 96;

/** Weights row by row, each as long as all may be; what is told; the sums. */
export const earWeights: usize = memory.data(660 * 96 * 4, 16);
export const earInput: usize = memory.data(660 * 4, 16);
export const earSums: usize = memory.data(96 * 4, 16);

/** `sums[row] = sum over columns of weights[row][column] input[column]`, two rows at a time. */
export function sumEarRows(rows: i32): void {
  const bytes = (<usize>EAR_COLUMNS) << 2;
  let weights = earWeights;
  for (let row = 0; row < rows; row += 2) {
    let sum = f32x4(0, 0, 0, 0);
    let next = f32x4(0, 0, 0, 0);
    for (let at: usize = 0; at < bytes; at += 16) {
      const told = v128.load(earInput + at);
      sum = f32x4.add(sum, f32x4.mul(v128.load(weights + at), told));
      next = f32x4.add(next, f32x4.mul(v128.load(weights + bytes + at), told));
    }
    store<f32>(earSums + ((<usize>row) << 2), sumOfLanes(sum));
    store<f32>(earSums + ((<usize>row) << 2), sumOfLanes(next), 4);
    weights += 2 * bytes;
  }
}
