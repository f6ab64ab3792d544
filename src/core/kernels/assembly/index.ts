export * from './bands';
export * from './means';
export * from './resample';
export * from './rises';
export * from './sinc';
export * from './spectrum';
export * from './vocoder';
