import { decide, prove, studyDesign, viewSystem } from '@katharos/core';
import { expose } from 'comlink';
import { z } from 'zod';

// zod would try eval, which the content security policy forbids
z.config({ jitless: true });

const core = { decide, studyDesign, viewSystem, prove };
export type CoreWorker = typeof core;
expose(core);
