// Whatever the core gives out says what it is.
import { join } from 'node:path';
import ts from 'typescript';
import { expect, it } from 'vitest';
import { root } from './lib.mjs';

it('every public item of the core has a docstring', () => {
	const entries = ['index.ts', 'maps.ts', 'runs.ts', 'traces.ts', 'editing.ts', 'differences.ts', 'geometry.ts'].map(
		(name) => join(root, 'core', 'src', name),
	);
	const program = ts.createProgram(entries, {
		target: ts.ScriptTarget.ES2022,
		module: ts.ModuleKind.ESNext,
		moduleResolution: ts.ModuleResolutionKind.Bundler,
		strict: true,
		skipLibCheck: true,
		types: [],
	});
	const checker = program.getTypeChecker();
	const silent = [];
	let count = 0;
	for (const entry of entries)
		for (const given of checker.getExportsOfModule(checker.getSymbolAtLocation(program.getSourceFile(entry)))) {
			const item = given.flags & ts.SymbolFlags.Alias ? checker.getAliasedSymbol(given) : given;
			count++;
			if (item.getDocumentationComment(checker).length + item.getJsDocTags(checker).length === 0)
				silent.push(given.name);
		}
	expect(silent).toEqual([]);
	expect(count).toBeGreaterThan(100);
});
