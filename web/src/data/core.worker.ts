import '../boot/noEval.ts';
import { expose } from 'comlink';
import { core } from './coreAnswers.ts';

export type CoreWorker = typeof core;
expose(core);
