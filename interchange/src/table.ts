/** The objects of a project as a plain table, in and out: CSV or a list of JSON objects, a row an object. */
import { isFormula, oneLine, type Project, type SceneObject, type Vec3 } from '@frelk/core';
import Papa from 'papaparse';
import { LevelError } from './level';

/** The columns, in their order. Lengths in metres, turns in degrees; tags apart by a blank. */
export const COLUMNS = [
	'id',
	'name',
	'parent',
	'layer',
	'tags',
	'side',
	'active',
	'x',
	'y',
	'z',
	'yaw',
	'pitch',
	'roll',
	'scale-x',
	'scale-y',
	'scale-z',
	'priority',
	'prompt',
	'action',
	'stands-for',
] as const;
type Column = (typeof COLUMNS)[number];
/** One object; what is left out or empty is as usual. */
export type Row = Partial<Record<Column, string | number | boolean>>;

const rowOf = (o: SceneObject): Row => {
	const [x, y, z] = o.position ?? [0, 0, 0];
	const [yaw, pitch, roll] = o.rotation ?? [0, 0, 0];
	const [sx, sy, sz] = o.scale ?? [1, 1, 1];
	return {
		id: o.id,
		...(o.name === undefined ? {} : { name: o.name }),
		...(o.parent === undefined ? {} : { parent: o.parent }),
		layer: o.layer,
		...(o.tags?.length ? { tags: o.tags.join(' ') } : {}),
		...(o.side === undefined ? {} : { side: o.side }),
		active: o.active ?? true,
		x,
		y,
		z,
		yaw,
		pitch,
		roll,
		'scale-x': sx,
		'scale-y': sy,
		'scale-z': sz,
		...(o.priority === undefined ? {} : { priority: o.priority }),
		...(o.prompt === undefined ? {} : { prompt: o.prompt }),
		...(o.action === undefined ? {} : { action: o.action }),
		...(o.standsFor === undefined ? {} : { 'stands-for': o.standsFor }),
	};
};

/** @returns a row for each object, in the order of the file */
export const rowsOf = (project: Project): Row[] => project.scene.objects.map(rowOf);

const asText = (value: Row[Column]): Row[Column] =>
	typeof value === 'string' && isFormula(value) ? `'${value}` : value;

/** @returns the rows as CSV, with a head */
export const csvTable = (project: Project): string => {
	const data = rowsOf(project).map((row) => COLUMNS.map((column) => asText(row[column]) ?? ''));
	return `${Papa.unparse({ fields: [...COLUMNS], data }, { newline: '\r\n' })}\r\n`;
};

/** @returns the rows as JSON, one a line */
export const jsonTable = (project: Project): string =>
	`[\n${rowsOf(project)
		.map((row) => `  ${JSON.stringify(row)}`)
		.join(',\n')}\n]\n`;

/**
 * Reads a table.
 * @throws LevelError with the row, from 1 below the head, where it is none
 */
export function readTable(text: string, name: string): { rows: Row[]; columns: Column[] } {
	const plain = text.replace(/^\ufeff/, '');
	const json = plain.trimStart().startsWith('[');
	let rows: Row[];
	if (json) {
		let data: unknown;
		try {
			data = JSON.parse(plain);
		} catch (error) {
			throw new LevelError(`${name}: is not JSON: ${oneLine((error as Error).message)}`);
		}
		if (!Array.isArray(data) || data.some((row) => typeof row !== 'object' || row === null || Array.isArray(row)))
			throw new LevelError(`${name}: expected a list of objects, a row each`);
		rows = data as Row[];
	} else {
		const parsed = Papa.parse<Row>(plain, {
			header: true,
			skipEmptyLines: 'greedy',
			transformHeader: (h) => h.trim().toLowerCase(),
		});
		const [first] = parsed.errors.filter((e) => e.code !== 'UndetectableDelimiter');
		if (first) throw new LevelError(`${name}: row ${(first.row ?? 0) + 1}: ${first.message}`);
		rows = parsed.data;
	}
	const columns = new Set<Column>();
	rows.forEach((row, i) => {
		for (const key of Object.keys(row)) {
			if (!(COLUMNS as readonly string[]).includes(key))
				throw new LevelError(
					`${name}: row ${i + 1}: unknown column ${JSON.stringify(key)}; they are ${COLUMNS.join(', ')}`,
				);
			columns.add(key as Column);
		}
		if (typeof row.id !== 'string' || row.id === '') throw new LevelError(`${name}: row ${i + 1}: id is missing`);
	});
	return { rows, columns: COLUMNS.filter((c) => columns.has(c)) };
}

const POSES = {
	position: { columns: ['x', 'y', 'z'], usual: 0 },
	rotation: { columns: ['yaw', 'pitch', 'roll'], usual: 0 },
	scale: { columns: ['scale-x', 'scale-y', 'scale-z'], usual: 1 },
} as const;
const TEXTS = {
	name: 'name',
	parent: 'parent',
	side: 'side',
	prompt: 'prompt',
	action: 'action',
	'stands-for': 'standsFor',
} as const;

/**
 * Lays a table over a project: objects of known ids are changed in the columns there are, others are new, at the end. Nothing is taken out.
 * @returns a new project; it is not yet held against the rules of the file
 * @throws LevelError with the row and column of what is no number or no yes or no
 */
export function withTable(
	project: Project,
	{ rows, columns }: ReturnType<typeof readTable>,
	name: string,
): { project: Project; came: string[]; changed: string[] } {
	const objects = [...project.scene.objects];
	const place = new Map(objects.map((o, i) => [o.id, i]));
	const came: string[] = [];
	const changed: string[] = [];
	rows.forEach((row, i) => {
		const fail = (column: string, what: string): never => {
			throw new LevelError(
				`${name}: row ${i + 1}, ${column}: expected ${what}, got ${JSON.stringify(row[column as Column])}`,
			);
		};
		const given = (column: Column): string => {
			const text = String(row[column] ?? '').trim();
			return text.startsWith("'") && isFormula(text.slice(1)) ? text.slice(1) : text;
		};
		const number = (column: Column, usual: number): number => {
			const text = given(column);
			if (text === '') return usual;
			const value = Number(text);
			return Number.isFinite(value) ? value : fail(column, 'a number');
		};
		const id = given('id');
		const at = place.get(id);
		const was = at === undefined ? ({ id, layer: '' } as SceneObject) : (objects[at] as SceneObject);
		const next = { ...was } as SceneObject & Record<string, unknown>;
		const written = at === undefined ? null : rowOf(was);
		/** Whether a cell says otherwise than the object's own row does: one that was only written and read again changes nothing. */
		const isNew = (column: Column): boolean => {
			if (!columns.includes(column)) return false;
			if (!written) return true;
			const cell = String(row[column] ?? '');
			const own = written[column];
			return cell !== String(own ?? '') && cell !== String(asText(own) ?? '');
		};
		for (const [field, { columns: three, usual }] of Object.entries(POSES)) {
			if (!three.some(isNew)) continue;
			const own = (was as unknown as Record<string, Vec3 | undefined>)[field] ?? [usual, usual, usual];
			const value = three.map((c, k) => (columns.includes(c) ? number(c, usual) : own[k])) as [number, number, number];
			if (value.every((v) => v === usual) && (was as unknown as Record<string, unknown>)[field] === undefined) continue;
			(next as Record<string, unknown>)[field] = value;
		}
		for (const [column, field] of Object.entries(TEXTS)) {
			if (!isNew(column as Column)) continue;
			const text = given(column as Column);
			if (text === '') delete next[field];
			else next[field] = text;
		}
		if (isNew('layer')) next.layer = given('layer');
		if (isNew('tags')) {
			const tags = given('tags')
				.split(/[\s,;]+/)
				.filter((t) => t !== '');
			if (tags.length > 0) next.tags = tags;
			else delete next.tags;
		}
		if (isNew('priority')) {
			if (given('priority') === '') delete next.priority;
			else next.priority = number('priority', 0);
		}
		if (isNew('active')) {
			const text = given('active').toLowerCase();
			if (!['', 'true', 'false', 'yes', 'no', '1', '0'].includes(text)) fail('active', 'yes or no');
			if (['false', 'no', '0'].includes(text)) next.active = false;
			else if (was.active !== undefined) next.active = true;
		}
		if (at === undefined) {
			came.push(id);
			place.set(id, objects.push(next) - 1);
		} else if (JSON.stringify(was) !== JSON.stringify(next)) {
			changed.push(id);
			objects[at] = next;
		}
	});
	return { project: { ...project, scene: { ...project.scene, objects } }, came, changed };
}
