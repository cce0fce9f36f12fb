#!/usr/bin/env node
// The sources are TypeScript and run as they are, so that nothing has to be built before the first call.
import { register } from 'tsx/esm/api';

register();
await import('../src/command.ts');
