/** Findings as SARIF 2.1.0, for build servers and editors that show it. */
import { findNodeAtLocation, parseTree } from 'jsonc-parser';
import type { Finding } from './finding';
import { FINDING_RULES } from './rules';

/** A project's findings with the file they are of, and its text where lines are to be told. */
export interface SarifInput {
	file: string;
	text?: string;
	findings: readonly Finding[];
}

/** `scene.objects[3].tags[0]` as its steps. */
const stepsOf = (path: string): (string | number)[] =>
	[...path.matchAll(/\[(\d+)\]|\["((?:[^"\\]|\\.)*)"\]|([^.[\]]+)/g)].map((m) =>
		m[1] !== undefined ? Number(m[1]) : (m[2] ?? m[3] ?? ''),
	);

/** @returns the log, as an object to be printed as JSON */
export function sarifOf(inputs: readonly SarifInput[]): object {
	const used = [...new Set(inputs.flatMap((i) => i.findings.map((f) => f.rule)))];
	const place = new Map(used.map((id, i) => [id, i]));
	return {
		$schema: 'https://json.schemastore.org/sarif-2.1.0.json',
		version: '2.1.0',
		runs: [
			{
				tool: {
					driver: {
						name: 'frelk findings',
						rules: used.map((id) => {
							const rule = FINDING_RULES.find((r) => r.id === id);
							return {
								id,
								shortDescription: { text: rule?.about ?? id },
								defaultConfiguration: { level: rule?.level ?? 'note' },
							};
						}),
					},
				},
				results: inputs.flatMap(({ file, text, findings }) => {
					const tree = text === undefined ? undefined : parseTree(text);
					const lineOf = (path: string): number | null => {
						const node = tree && findNodeAtLocation(tree, stepsOf(path));
						return node && text !== undefined ? text.slice(0, node.offset).split('\n').length : null;
					};
					const location = (path: string) => {
						const line = lineOf(path);
						return {
							physicalLocation: {
								artifactLocation: { uri: file.split('\\').join('/').split('/').map(encodeURIComponent).join('/') },
								...(line === null ? {} : { region: { startLine: line } }),
							},
							logicalLocations: [{ fullyQualifiedName: path }],
						};
					};
					return findings.map((f) => ({
						ruleId: f.rule,
						ruleIndex: place.get(f.rule),
						level: f.level,
						message: { text: f.message },
						locations: [location(f.path)],
						...(f.related.length > 0
							? { relatedLocations: f.related.map((path, id) => ({ id, ...location(path) })) }
							: {}),
					}));
				}),
			},
		],
	};
}
