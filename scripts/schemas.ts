/** Writes docs/schemas and docs/findings.md from what the program goes by: `npm run schemas`. Tests hold them together. */
import { mkdirSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { findingsPage } from '../core/src/findings/page';
import { jsonSchemas } from '../core/src/report/formats';

const folder = join(import.meta.dirname, '../docs/schemas');
mkdirSync(folder, { recursive: true });
for (const [name, schema] of Object.entries(jsonSchemas()))
	writeFileSync(join(folder, `${name}.schema.json`), `${JSON.stringify(schema, null, '\t')}\n`);
writeFileSync(join(import.meta.dirname, '../docs/findings.md'), findingsPage());
