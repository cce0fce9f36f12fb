import fc from 'fast-check';
import { runs } from './core/src/tests/runs';

// The same cases in every run, so that a red build says something about the change; FRELK_SEED tries others.
fc.configureGlobal({ seed: Number(process.env.FRELK_SEED ?? 1), numRuns: runs(100) });
