/** Writes docs/schemas from the schemas that read the files: `npm run schemas`. A test holds the two together. */
import { mkdirSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { jsonSchemas } from '../core/src/report/formats';

const folder = join(import.meta.dirname, '../docs/schemas');
mkdirSync(folder, { recursive: true });
for (const [name, schema] of Object.entries(jsonSchemas()))
	writeFileSync(join(folder, `${name}.schema.json`), `${JSON.stringify(schema, null, '\t')}\n`);
