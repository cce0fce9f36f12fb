// One thread of `POST /api/check`: a project's text in, the outcome as JSON out.
import { parentPort } from 'node:worker_threads';
import { register } from 'tsx/esm/api';

register();
const { checkText } = await import('../src/check-text.ts');

parentPort?.on('message', (text) => parentPort?.postMessage(checkText(text)));
parentPort?.postMessage('ready');
