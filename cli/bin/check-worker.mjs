// One thread of `POST /api/check`: a project's bytes in, the outcome as JSON out.
import { parentPort } from 'node:worker_threads';
import { register } from 'tsx/esm/api';

register();
const { checkBytes } = await import('../src/check-text.ts');

parentPort?.on('message', (bytes) => parentPort?.postMessage(checkBytes(bytes)));
parentPort?.postMessage('ready');
