// What takes long of `frelk lsp`, in a worker, from the sources as they are.
import { register } from 'tsx/esm/api';

register();
const { default: lspPart } = await import('../src/lsp-part.ts');

export default lspPart;
