#!/usr/bin/env node
// The sources are TypeScript and run as they are, so that nothing has to be built before the first call.
import { register } from 'tsx/esm/api';

register();
const { main } = await import('../src/main.ts');
const { processIo } = await import('../src/process-io.ts');

const io = processIo();
const code = await main(process.argv.slice(2), io);
process.exitCode = await io.ended(code);
