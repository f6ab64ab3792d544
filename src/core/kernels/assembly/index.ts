export * from './bands';
export * from './rises';
export * from './sinc';
