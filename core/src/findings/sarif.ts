/** Findings as SARIF 2.1.0, for build servers and editors that show it. */
import { findNodeAtLocation, type Node, parseTree } from 'jsonc-parser';
import { stepsOf } from '../project/problems';
import type { Finding } from './finding';
import { FINDING_RULES } from './rules';

/** A project's findings with the file they are of, and its text where lines are to be told. */
export interface SarifInput {
	file: string;
	text?: string;
	findings: readonly Finding[];
}

/** Where it is told what the command is. */
const ABOUT = 'https://frelk.example/';

/** Offsets at which the lines of a text begin: found once, however many places are told in it. */
function linesIn(text: string): number[] {
	const starts = [0];
	for (let at = text.indexOf('\n'); at >= 0; at = text.indexOf('\n', at + 1)) starts.push(at + 1);
	return starts;
}

/** The line and column of an offset, both from 1. */
function placeOf(offset: number, starts: readonly number[]): { line: number; column: number } {
	let [low, high] = [0, starts.length - 1];
	while (low < high) {
		const middle = (low + high + 1) >> 1;
		if (starts[middle] <= offset) low = middle;
		else high = middle - 1;
	}
	return { line: low + 1, column: offset - starts[low] + 1 };
}

/** A path with ids in place of numbers: the same thing has the same, wherever it stands in its list. */
function lastingPath(tree: Node | undefined, steps: readonly (string | number)[]): string {
	return steps
		.map((step, i) => {
			if (typeof step !== 'number' || !tree) return String(step);
			const entry = findNodeAtLocation(tree, steps.slice(0, i + 1));
			const id = entry && findNodeAtLocation(entry, ['id'])?.value;
			return typeof id === 'string' ? id : String(step);
		})
		.join('/');
}

/** A short figure of a text (FNV-1a, twice): equal texts have equal ones. */
function figureOf(text: string): string {
	let [a, b] = [0x811c9dc5, 0x1000193];
	for (let i = 0; i < text.length; i++) {
		a = Math.imul(a ^ text.charCodeAt(i), 0x01000193);
		b = Math.imul(b + text.charCodeAt(i), 0x85ebca6b) ^ (b >>> 13);
	}
	return (a >>> 0).toString(16).padStart(8, '0') + (b >>> 0).toString(16).padStart(8, '0');
}

/**
 * @param version of the command that tells it
 * @returns the log, as an object to be printed as JSON
 */
export function sarifOf(inputs: readonly SarifInput[], version = '0'): object {
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
						version,
						informationUri: ABOUT,
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
					const starts = linesIn(text ?? '');
					const regionOf = (path: string) => {
						const node = tree && findNodeAtLocation(tree, stepsOf(path));
						if (!node) return {};
						const [from, to] = [placeOf(node.offset, starts), placeOf(node.offset + node.length, starts)];
						return {
							region: { startLine: from.line, startColumn: from.column, endLine: to.line, endColumn: to.column },
						};
					};
					const location = (path: string) => {
						return {
							physicalLocation: {
								artifactLocation: { uri: file.split('\\').join('/').split('/').map(encodeURIComponent).join('/') },
								...regionOf(path),
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
						partialFingerprints: {
							'frelkFinding/v1': figureOf(
								[f.rule, ...[f.path, ...f.related].map((path) => lastingPath(tree, stepsOf(path)))].join(' '),
							),
						},
						...(f.related.length > 0
							? { relatedLocations: f.related.map((path, id) => ({ id, ...location(path) })) }
							: {}),
					}));
				}),
			},
		],
	};
}
