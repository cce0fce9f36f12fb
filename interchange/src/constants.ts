/** What is typed into a game: layer bits and masks, query figures and tag ids, as plain JSON and as constants of four languages. */
import { ARC, type Project, type Query, rulesOf, slackOf, takeOf } from '@frelk/core';

export const LANGUAGES = ['json', 'cpp', 'csharp', 'typescript', 'python'] as const;
/** A language constants can be written in. */
export type Language = (typeof LANGUAGES)[number];

/** Endings of the files, by language. */
export const ENDINGS: Record<Language, string> = {
	json: 'json',
	cpp: 'h',
	csharp: 'cs',
	typescript: 'ts',
	python: 'py',
};

interface QueryFigures {
	id: string;
	kind: Query['kind'];
	/** Layers it may select on, and those that block its sight, as masks of the bits above. */
	layers: number;
	blockers: number;
	take: number | 'all';
	length?: number;
	radius?: number;
	/** Of what is thrown: m/s, m/s², s, s. */
	arcSpeed?: number;
	arcGravity?: number;
	arcTime?: number;
	arcStep?: number;
	rangeMin?: number;
	rangeMax?: number;
	viewWithin?: number;
	assistWithin?: number;
	assistBy?: string;
	rules: { rule: string; slack: number }[];
}

/** The figures a game needs of a project, plainly. Masks and bits are unsigned; lengths in metres, angles in degrees, times in seconds. */
export interface Constants {
	format: 'frelk-constants/1';
	project: string;
	layers: { id: string; bit: number; mask: number }[];
	tags: { id: string; index: number; under: string | null }[];
	queries: QueryFigures[];
}

/** @returns layers, tags and query figures of a project in the order of its file */
export function constantsOf(project: Project): Constants {
	const { layers, tags, tieSlack = 0.001 } = project.scene;
	const bitOf = new Map(layers.map((l, i) => [l.id, 2 ** i]));
	const all = layers.reduce((sum, _, i) => sum + 2 ** i, 0);
	const mask = (ids: readonly string[] | 'all' | undefined): number =>
		ids === 'all' ? all : [...new Set(ids ?? [])].reduce((sum, id) => sum + (bitOf.get(id) ?? 0), 0);
	return {
		format: 'frelk-constants/1',
		project: project.id,
		layers: layers.map((l, i) => ({ id: l.id, bit: i, mask: 2 ** i })),
		tags: tags.map((t, i) => ({ id: t.id, index: i, under: t.under ?? null })),
		queries: project.queries.map((query) => ({
			id: query.id,
			kind: query.kind,
			layers: mask(query.selects?.layers ?? 'all'),
			blockers: mask(query.sight?.blockers ?? []),
			take: takeOf(query),
			...lengthOf(query),
			...arcOf(query),
			...(query.range?.min === undefined ? {} : { rangeMin: query.range.min }),
			...(query.range?.max === undefined ? {} : { rangeMax: query.range.max }),
			...(query.view === undefined ? {} : { viewWithin: query.view.within }),
			...assistOf(query),
			rules: rulesOf(query).map((rule) => ({ rule: rule.rule, slack: slackOf(rule, tieSlack) })),
		})),
	};
}

function lengthOf(query: Query): { length?: number; radius?: number } {
	const length = 'length' in query && query.length !== undefined ? { length: query.length } : {};
	const shape = query.kind === 'sweep' || query.kind === 'overlap' ? query.shape : null;
	return { ...length, ...(shape && 'radius' in shape ? { radius: shape.radius } : {}) };
}

function arcOf(query: Query): Pick<QueryFigures, 'arcSpeed' | 'arcGravity' | 'arcTime' | 'arcStep'> {
	if (!('arc' in query) || !query.arc) return {};
	const { speed, gravity, time, step } = { ...ARC, ...query.arc };
	return { arcSpeed: speed, arcGravity: gravity, arcTime: time, arcStep: step };
}

function assistOf(query: Query): { assistBy?: string; assistWithin?: number } {
	if (!('assist' in query) || !query.assist) return {};
	return { assistBy: query.assist.by, assistWithin: query.assist.within };
}

const words = (id: string): string[] => id.split(/[^a-z0-9]+/).filter((w) => w !== '');
const upper = (id: string): string => words(id).join('_').toUpperCase();
const pascal = (id: string): string =>
	words(id)
		.map((w) => w[0]?.toUpperCase() + w.slice(1))
		.join('');

/** Four figures of an id, the same wherever it stands. */
function markOf(id: string): string {
	let figure = 0x811c9dc5;
	for (let i = 0; i < id.length; i++) figure = Math.imul(figure ^ id.charCodeAt(i), 0x01000193);
	return ((figure ^ (figure >>> 16)) & 0xffff).toString(16).padStart(4, '0').toUpperCase();
}

/**
 * Names of constants: no two alike, none that begins with a figure, none that a language keeps for what is around it. Where ids come to
 * one name each has a mark of its own, whatever their order: a name never comes to mean another thing.
 */
function names(
	ids: readonly string[],
	form: (id: string) => string,
	kept: readonly string[] = [],
): Map<string, string> {
	const plain = new Map(
		ids.map((id) => {
			const name = form(id) || '_';
			return [id, /^[0-9]/.test(name) ? `_${name}` : name];
		}),
	);
	const times = new Map<string, number>(kept.map((name) => [name, 1]));
	for (const name of plain.values()) times.set(name, (times.get(name) ?? 0) + 1);
	const out = new Map<string, string>();
	const taken = new Set<string>(kept);
	for (const [id, name] of plain) {
		// Two marks alike are as good as never; even then no name is given twice.
		let marked = (times.get(name) ?? 0) > 1 ? `${name}_${markOf(id)}` : name;
		for (let more = id; taken.has(marked); more += '-') marked = `${name}_${markOf(id)}${markOf(more)}`;
		taken.add(marked);
		out.set(id, marked);
	}
	return out;
}

/** Members of every class that is written, and those that every class has by itself. */
const CLASSES = ['Layers', 'Tags', 'Queries'];
const OWN = ['Equals', 'ReferenceEquals', 'ToString', 'GetHashCode', 'GetType', 'MemberwiseClone', 'Finalize'];

const FIGURES = [
	'length',
	'radius',
	'arcSpeed',
	'arcGravity',
	'arcTime',
	'arcStep',
	'rangeMin',
	'rangeMax',
	'viewWithin',
	'assistWithin',
] as const;

/** The figures of a query that are numbers, by name; masks first. */
const numbersOf = (q: QueryFigures): [string, number, boolean][] => [
	['layers', q.layers, true],
	['blockers', q.blockers, true],
	...FIGURES.flatMap((key): [string, number, boolean][] => (q[key] === undefined ? [] : [[key, q[key], false]])),
];

const hex = (mask: number): string => `0x${mask.toString(16).padStart(8, '0').toUpperCase()}`;
const snake = (key: string): string => key.replace(/[A-Z]/g, (c) => `_${c}`).toUpperCase();
const real = (value: number): string =>
	Number.isInteger(value) && Math.abs(value) < 1e15 ? value.toFixed(1) : String(value);

const HEAD =
	'Written by frelk constants. Lengths in metres, angles in degrees, times in seconds, masks of the layer bits.';

/** @returns the constants as a source file, or as JSON */
export function constantsIn(language: Language, constants: Constants): string {
	const { project, layers, tags, queries } = constants;
	if (language === 'json') return `${JSON.stringify(constants, null, 2)}\n`;
	const title = `Project ${project}. ${HEAD}`;
	if (language === 'python') {
		const [l, t, q] = [layers, tags, queries].map((list) =>
			names(
				list.map((e) => e.id),
				upper,
			),
		) as [Map<string, string>, Map<string, string>, Map<string, string>];
		const lines = [`"""${title}"""`, ''];
		const group = (name: string, body: string[]) => {
			lines.push(`class ${name}:`, ...(body.length > 0 ? body.map((b) => `    ${b}`) : ['    pass']), '');
		};
		group(
			'Layers',
			layers.map(({ id, mask }) => `${l.get(id)} = ${hex(mask)}`),
		);
		group(
			'Tags',
			tags.map(({ id, index }) => `${t.get(id)} = ${index}  # ${JSON.stringify(id)}`),
		);
		group(
			'Queries',
			queries.flatMap((one) =>
				numbersOf(one).map(
					([key, value, isMask]) => `${q.get(one.id)}_${snake(key)} = ${isMask ? hex(value) : real(value)}`,
				),
			),
		);
		return lines.join('\n');
	}
	const form = pascal;
	const cap = (key: string) => key[0]?.toUpperCase() + key.slice(1);
	// No member is called as the class it is in; the classes of queries have members of their own.
	const [l, t, q] = [layers, tags, queries].map((list, i) =>
		names(
			list.map((e) => e.id),
			form,
			i < 2 ? [...CLASSES, ...OWN] : [...CLASSES, ...OWN, 'Layers', 'Blockers', ...FIGURES.map(cap)],
		),
	) as [Map<string, string>, Map<string, string>, Map<string, string>];
	const own = pascal(project) || 'Frelk';
	const name = CLASSES.includes(own) ? `${own}Project` : own;
	if (language === 'cpp')
		return [
			`// ${title}`,
			'#pragma once',
			'#include <cstdint>',
			'',
			`namespace ${/^[0-9]/.test(name) ? `_${name}` : name} {`,
			'namespace Layers {',
			...layers.map(({ id, mask }) => `constexpr std::uint32_t ${l.get(id)} = ${hex(mask)}u;`),
			'}',
			'namespace Tags {',
			...tags.map(({ id, index }) => `constexpr int ${t.get(id)} = ${index};`),
			'}',
			'namespace Queries {',
			...queries.flatMap((one) => [
				`namespace ${q.get(one.id)} {`,
				...numbersOf(one).map(([key, value, isMask]) =>
					isMask
						? `constexpr std::uint32_t ${cap(key)} = ${hex(value)}u;`
						: `constexpr double ${cap(key)} = ${real(value)};`,
				),
				'}',
			]),
			'}',
			'}',
			'',
		].join('\n');
	if (language === 'csharp')
		return [
			`// ${title}`,
			`public static class ${/^[0-9]/.test(name) ? `_${name}` : name}`,
			'{',
			'    public static class Layers',
			'    {',
			...layers.map(({ id, mask }) => `        public const uint ${l.get(id)} = ${hex(mask)};`),
			'    }',
			'    public static class Tags',
			'    {',
			...tags.map(({ id, index }) => `        public const int ${t.get(id)} = ${index};`),
			'    }',
			'    public static class Queries',
			'    {',
			...queries.flatMap((one) => [
				`        public static class ${q.get(one.id)}`,
				'        {',
				...numbersOf(one).map(([key, value, isMask]) =>
					isMask
						? `            public const uint ${cap(key)} = ${hex(value)};`
						: `            public const double ${cap(key)} = ${real(value)};`,
				),
				'        }',
			]),
			'    }',
			'}',
			'',
		].join('\n');
	return [
		`// ${title}`,
		'export const Layers = {',
		...layers.map(({ id, mask }) => `\t${l.get(id)}: ${hex(mask)},`),
		'} as const;',
		'export const Tags = {',
		...tags.map(({ id, index }) => `\t${t.get(id)}: ${index},`),
		'} as const;',
		'export const Queries = {',
		...queries.flatMap((one) => [
			`\t${q.get(one.id)}: {`,
			...numbersOf(one).map(([key, value, isMask]) => `\t\t${key}: ${isMask ? hex(value) : value},`),
			'\t},',
		]),
		'} as const;',
		'',
	].join('\n');
}
