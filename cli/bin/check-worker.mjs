// One task of `POST /api/check`, in a thread of its own: a project's bytes in, the outcome as JSON out.
import { register } from 'tsx/esm/api';

register();
const { checkBytes } = await import('../src/check-text.ts');

export default (bytes) => checkBytes(bytes);
