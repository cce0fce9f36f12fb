/**
 * A level into a project, for the first time or again. What came from the file is told apart from what was said here by what the file said
 * last time, which lies under each object's `extras.import`.
 */
import { type Camera, metres, type Project, type SceneObject, type Shape, slug, writeProject } from '@frelk/core';
import { checkReferences } from '@frelk/core/editing';
import { deepEqual } from '@frelk/core/schema';
import { type RunCame, withRuns } from './animations';
import { type Level, LevelError, type LevelNode, type LevelNote } from './level';
import { type Made, madeBy, type NamingRules, withRules } from './rules';
import { shapesOf } from './shape';
import {
	figureOf,
	figureOfForm,
	formOf,
	isRecord,
	type Pose,
	posed,
	poseOf,
	type Told,
	toldOf,
	toldOfCamera,
	written,
} from './told';

/** What reading a level did, or would do. */
export interface ImportReport {
	/** Objects that are new, with their paths in the file. */
	came: { id: string; path: string }[];
	/** Objects the file no longer has; those that something speaks of are kept, inactive. */
	went: { id: string; path: string; kept: boolean }[];
	/** Objects that stand elsewhere, turned or scaled otherwise; metres between the places in their own axes. */
	moved: { id: string; path: string; by: number }[];
	/** Objects whose shapes, name, or what rules say of them changed. */
	changed: { id: string; path: string; what: string[] }[];
	/** Said here and in the file, which has another opinion: what stands here stays. */
	kept: { id: string; path: string; what: string }[];
	/** Nodes a rule leaves out, and nodes that match no rule. */
	leftOut: string[];
	unmatched: string[];
	/** How many nodes each rule matches. */
	matches: number[];
	/** Run-throughs made of animations, or made anew. */
	runs: RunCame[];
	notes: LevelNote[];
}

/** Ids that are free, found without going over those of one name again and again. */
class FreeIds {
	private readonly taken: Set<string>;
	/** By what they begin with: the number that is tried next. */
	private readonly next = new Map<string, number>();

	constructor(taken: Iterable<string>) {
		this.taken = new Set(taken);
	}

	take(wanted: string): string {
		// Room for a number behind it.
		const base = slug(wanted, 56) || 'node';
		let id = base;
		let n = this.next.get(base) ?? 2;
		for (; this.taken.has(id); n++) id = `${base}-${n}`;
		this.next.set(base, n);
		this.taken.add(id);
		return id;
	}
}

/** A project with nothing in it, for a level that has none yet. */
function emptyFor(level: Level): Project {
	const name = level.name.replace(/\.[^.]*$/, '').slice(0, 200) || 'Level';
	return {
		format: 'frelk/1',
		id: slug(name) || 'level',
		name,
		scene: { kind: level.kind, layers: [], tags: [], objects: [], cameras: [] },
		queries: [],
	};
}

/** Nothing was made in it yet: what a new scene came with gives way to the level's own. */
const isBlank = ({ scene, queries }: Project): boolean => scene.objects.length === 0 && queries.length === 0;

/** The camera that shows all of a drawing from above. */
function cameraAbove({ frame, nodes }: Level): Camera | null {
	if (!frame) return null;
	const top = nodes.reduce((most, n) => Math.max(most, n.position[2]), 0);
	return {
		id: 'above',
		name: 'Above',
		position: [...frame.middle, top + 1],
		projection: 'orthographic',
		height: frame.height,
		far: top + 2,
	};
}

/** Below this the usual slack would have everything of a scene tie, metres. */
const SMALL = 1;

/** A thousandth of a small level, as a power of ten; null where the usual millimetre does. */
function slackFor({ extent }: Pick<Level, 'extent'>): number | null {
	if (!(extent > 0) || extent >= SMALL) return null;
	return Math.max(1e-6, Number((10 ** Math.floor(Math.log10(extent) + 1e-9 - 3)).toPrecision(1)));
}

/** Objects something of the project speaks of. @param file whose own parents do not count */
function spokenOf(project: Project, fromFile: ReadonlySet<string>): Set<string> {
	const spoken = new Set<string>();
	checkReferences(project, undefined, (kind, id, path) => {
		if (kind !== 'object') return;
		const parent = path[0] === 'scene' && path[1] === 'objects' && path[3] === 'parent';
		const by = parent ? project.scene.objects[path[2] as number]?.id : undefined;
		if (by === undefined || !fromFile.has(by)) spoken.add(id);
	});
	return spoken;
}

/** The layer of what no rule gives one. That of levels stays it, whatever layers came before it in the list. */
export function fallbackLayer(rules: NamingRules, { scene: { layers } }: Project): string {
	return rules.layer ?? (layers.some((l) => l.id === LEVEL) ? LEVEL : (layers[0]?.id ?? LEVEL));
}

const LEVEL = 'level';

/** Several reports as one. */
function joined(a: ImportReport, b: ImportReport): ImportReport {
	return {
		came: [...a.came, ...b.came],
		went: [...a.went, ...b.went],
		moved: [...a.moved, ...b.moved],
		changed: [...a.changed, ...b.changed],
		kept: [...a.kept, ...b.kept],
		leftOut: [...a.leftOut, ...b.leftOut],
		unmatched: [...a.unmatched, ...b.unmatched],
		runs: [...a.runs, ...b.runs],
		matches: a.matches.map((times, i) => times + (b.matches[i] ?? 0)),
		notes: [...a.notes, ...b.notes],
	};
}

/**
 * Several levels into one project, as `levelInto` does one: none of them is taken for another under a new name.
 * @param levels each with the name by which what came from it is known again
 * @throws RangeError for a level of another kind than the scene
 */
export function levelsInto(
	levels: readonly { level: Level; file: string }[],
	rules: NamingRules,
	project: Project | null,
): { project: Project; report: ImportReport } {
	const [first, ...rest] = levels;
	if (!first) throw new RangeError('there is no level');
	const names = levels.map(({ file }) => file);
	let made = levelInto(first.level, rules, project, first.file, names);
	for (const { level, file } of rest) {
		const next = levelInto(level, rules, made.project, file, names);
		made = { project: next.project, report: joined(made.report, next.report) };
	}
	return made;
}

/**
 * @param project the one to read into, or null for a new one
 * @param file the level's name, by which what came from it is known again
 * @param beside names of levels that are read at the same time: what came from them is theirs
 * @returns a project as it would be, and what differs; neither argument is changed
 * @throws RangeError for a level of another kind than the scene
 */
export function levelInto(
	level: Level,
	rules: NamingRules,
	project: Project | null,
	file: string,
	beside: readonly string[] = [],
): { project: Project; report: ImportReport } {
	const report: ImportReport = {
		came: [],
		went: [],
		moved: [],
		changed: [],
		kept: [],
		leftOut: [],
		unmatched: [],
		matches: (rules.rules ?? []).map(() => 0),
		runs: [],
		notes: [...level.notes],
	};
	const before = project ?? emptyFor(level);
	if (before.scene.kind !== level.kind)
		throw new RangeError(
			`${file} is a ${level.kind === 'flat' ? 'flat drawing' : 'level in space'}; ${before.id} is a ${before.scene.kind === 'flat' ? 'flat' : 'space'} scene`,
		);
	const made = madeBy(rules, level.nodes);
	const fallback = fallbackLayer(rules, before);
	const objects = [...before.scene.objects];
	const place = new Map(objects.map((o, i) => [o.id, i]));
	const known = knownBy(before.scene.objects, file, beside);
	const free = new FreeIds(objects.map((o) => o.id));
	const idOf = new Map<string, string>();
	level.nodes.forEach((node, i) => {
		const how = made[i] as Made;
		for (const rule of how.rules) report.matches[rule] = report.matches[rule] + 1;
		if (how.leave) report.leftOut.push(node.path);
		else if (how.rules.length === 0) report.unmatched.push(node.path);
		if (!how.leave) idOf.set(node.path, known.get(node.path) ?? free.take(node.id ?? node.name));
	});
	if (known.size > 0 && level.nodes.length === 0)
		throw new LevelError(
			`${file}: has nothing in it that becomes an object; read again it would take away all ${known.size} that came from it`,
		);
	const came = new Set<string>();
	const parents = new Map(level.nodes.map((node) => [node.path, node.parent]));
	let shaped = 0;
	level.nodes.forEach((node, i) => {
		const id = idOf.get(node.path);
		if (id === undefined) return;
		const at = place.get(id);
		const parent = aboveThat(node, idOf, parents);
		const next = objectOf(node, made[i] as Made, parent, fallback, file, id, report);
		if (at === undefined) {
			objects.push(next);
			came.add(id);
			report.came.push({ id, path: node.path });
			shaped += next.shapes?.length ?? 0;
		} else {
			shaped += next.shapes?.length ?? 0;
			objects[at] = again(objects[at] as SceneObject, next, node.path, report);
		}
	});
	const had = before.scene.objects.some(
		(o) => (o.shapes?.length ?? 0) > 0 && known.size > 0 && toldOf(o)?.file === file,
	);
	if (had && idOf.size > 0 && shaped === 0)
		throw new LevelError(`${file}: none of its objects has a shape any more; read again it would empty the project`);
	checkSize(objects, file);
	const blank = isBlank(before);
	const cameras = camerasOf(level, before, idOf, file, blank);
	const slack = blank && before.scene.tieSlack === undefined ? slackFor(level) : null;
	if (slack !== null)
		report.notes.push({
			path: 'scene.tieSlack',
			message: `distances closer than ${slack} m count as equal: the level is ${metres(level.extent)} large`,
		});
	let next: Project = {
		...before,
		scene: {
			...before.scene,
			...(slack === null ? {} : { tieSlack: slack }),
			layers: withIds(
				before.scene.layers,
				objects.map((o) => o.layer),
			),
			tags: withIds(
				before.scene.tags,
				objects.flatMap((o) => o.tags ?? []),
			),
			objects,
			cameras,
		},
	};
	next = withRuns(next, level, idOf, file, report.runs);
	next = withoutGone(next, new Set([...idOf.values()]), file, report);
	if ((rules.rules ?? []).length > 0 || rules.layer !== undefined || rules.shape !== undefined)
		next = withRules(next, rules);
	return { project: next, report };
}

/** Ids of objects that came from a file, by their path in it; of a file under another name, where none came from this one. */
function knownBy(objects: readonly SceneObject[], file: string, beside: readonly string[]): Map<string, string> {
	const others = new Set(beside.filter((name) => name !== file));
	const all = objects.flatMap((o) => {
		const told = toldOf(o);
		return told && !others.has(told.file) ? [{ id: o.id, told }] : [];
	});
	const own = all.filter(({ told }) => told.file === file);
	const files = new Set(all.map(({ told }) => told.file));
	return new Map((own.length > 0 || files.size !== 1 ? own : all).map(({ id, told }) => [told.node, id]));
}

/** The nearest node above that is taken. */
function aboveThat(
	{ parent }: LevelNode,
	idOf: ReadonlyMap<string, string>,
	parents: ReadonlyMap<string, string | null>,
): string | null {
	for (let path: string | null | undefined = parent; path != null; path = parents.get(path)) {
		const id = idOf.get(path);
		if (id !== undefined) return id;
	}
	return null;
}

/** Numbers that the forms of all objects may have: each object of a project has its own, also where many share one mesh in the level. */
const MAX_NUMBERS = 30_000_000;

/** @throws LevelError where a project of these would be too large to be written */
function checkSize(objects: readonly SceneObject[], file: string): void {
	let numbers = 0;
	for (const { shapes = [] } of objects)
		for (const shape of shapes) {
			if (shape.kind === 'mesh') numbers += shape.vertices.length + shape.triangles.length;
			else if ('points' in shape) numbers += 3 * shape.points.length;
		}
	if (numbers > MAX_NUMBERS)
		throw new LevelError(
			`${file}: the triangles of all its objects come to ${numbers} numbers, at most ${MAX_NUMBERS} fit into a project; have a rule make boxes or hulls of some`,
		);
}

const withIds = <T extends { id: string }>(list: readonly T[], ids: readonly string[]): T[] => {
	const known = new Set(list.map((e) => e.id));
	const fresh = [...new Set(ids)].filter((id) => !known.has(id));
	return fresh.length === 0 ? (list as T[]) : [...list, ...fresh.map((id) => ({ id }) as T)];
};

function objectOf(
	node: LevelNode,
	how: Made,
	parent: string | null,
	fallback: string,
	file: string,
	id: string,
	report: ImportReport,
): SceneObject {
	const { shapes, said } = shapesOf(node, how.shape, how.role);
	if (said) report.notes.push({ path: node.path, message: said });
	const layer = how.layer ?? fallback;
	const pose: Pose = { parent, position: node.position, rotation: node.rotation, scale: node.scale };
	const told: Told = {
		file,
		node: node.path,
		pose,
		name: node.name,
		layer,
		tags: how.tags,
		prompt: how.prompt,
		action: how.action,
		role: how.role,
		shapes: Object.fromEntries(shapes.map((s) => [s.id, figureOfForm(s)])),
		...(node.active ? {} : { hidden: true }),
		extras: node.extras === undefined ? null : figureOf(node.extras),
	};
	const extras = isRecord(node.extras) ? node.extras : node.extras === undefined ? {} : { file: node.extras };
	return posed(
		{
			id,
			...(node.name === id ? {} : { name: node.name }),
			layer,
			...(how.tags.length > 0 ? { tags: how.tags } : {}),
			...(how.prompt === null ? {} : { prompt: how.prompt }),
			...(how.action === null ? {} : { action: how.action }),
			...(node.active ? {} : { active: false }),
			...(shapes.length > 0 ? { shapes } : {}),
			extras: { ...extras, import: written(told) },
		} as SceneObject,
		pose,
	);
}

/** An object that came before, read again: the file's own goes in anew, what was said here stays. */
function again(now: SceneObject, next: SceneObject, path: string, report: ImportReport): SceneObject {
	const was = toldOf(now) as Told;
	const is = toldOf(next) as Told;
	let out: SceneObject = { ...now };
	const what: string[] = [];
	if (was.gone) {
		delete out.active;
		report.came.push({ id: now.id, path });
	}
	// What the file hides or shows anew, where that stood as the file had it.
	if (was.hidden !== is.hidden && (now.active === false) === (was.hidden === true)) {
		what.push('active');
		if (is.hidden) out.active = false;
		else delete out.active;
	}
	// What the file places it keeps placing; what it left where it was may have been moved here.
	if (!deepEqual(was.pose, is.pose)) {
		const from = poseOf(now);
		out = posed(out, is.pose);
		report.moved.push({
			id: now.id,
			path,
			by: Math.hypot(...from.position.map((v, k) => v - is.pose.position[k])),
		});
	}
	const fields = {
		name: { was: was.name, is: is.name, now: now.name ?? now.id },
		layer: { was: was.layer, is: is.layer, now: now.layer },
		tags: { was: was.tags, is: is.tags, now: now.tags ?? [] },
		prompt: { was: was.prompt, is: is.prompt, now: now.prompt ?? null },
		action: { was: was.action, is: is.action, now: now.action ?? null },
	};
	for (const [field, value] of Object.entries(fields)) {
		if (deepEqual(value.was, value.is) || deepEqual(value.now, value.is)) continue;
		if (!deepEqual(value.now, value.was)) {
			report.kept.push({ id: now.id, path, what: field });
			continue;
		}
		what.push(field);
		const record = out as unknown as Record<string, unknown>;
		if (value.is === null || (Array.isArray(value.is) && value.is.length === 0)) delete record[field];
		else record[field] = value.is;
	}
	const shapes = shapesAgain(now.shapes ?? [], next.shapes ?? [], was, is);
	if (!deepEqual(shapes, now.shapes ?? [])) what.push('shapes');
	if (shapes.length > 0) out.shapes = shapes;
	else delete out.shapes;
	const own = isRecord(now.extras) ? now.extras : {};
	out.extras = was.extras === is.extras ? { ...own, import: written(is) } : { ...own, ...(next.extras as object) };
	if (what.length > 0) report.changed.push({ id: now.id, path, what });
	return out;
}

/** Shapes that came from the file are the file's, but for what was said of them here; those made here stay. */
function shapesAgain(now: readonly Shape[], next: readonly Shape[], was: Told, is: Told): Shape[] {
	const fresh = new Map(next.map((s) => [s.id, s]));
	const out: Shape[] = [];
	for (const shape of now) {
		const before = was.shapes[shape.id];
		const after = fresh.get(shape.id);
		fresh.delete(shape.id);
		if (before === undefined) out.push(shape);
		else if (after) {
			// Changed here alone: that stays. Changed in the file: the file's.
			const form = before === is.shapes[shape.id] ? formOf(shape) : formOf(after);
			const { id, name, role, layer, enabled, extras } = shape;
			const sameRole = (role ?? 'solid') === (was.role ?? role ?? 'solid');
			const said = { name, role: sameRole && was.role !== is.role ? after.role : role, layer, enabled, extras };
			const kept = Object.fromEntries(Object.entries(said).filter(([, v]) => v !== undefined));
			out.push({ id, ...form, ...kept } as Shape);
		}
	}
	return [...out, ...next.filter((s) => fresh.has(s.id))];
}

/** Takes out what the file no longer has; what something speaks of is kept without effect, so that checks of it fail rather than vanish. */
function withoutGone(project: Project, ids: ReadonlySet<string>, file: string, report: ImportReport): Project {
	const { objects } = project.scene;
	const fromFile = new Set(objects.filter((o) => toldOf(o)?.file === file).map((o) => o.id));
	const gone = new Set(objects.filter((o) => fromFile.has(o.id) && !ids.has(o.id)).map((o) => o.id));
	if (gone.size === 0) return project;
	const rest = new Set([...fromFile].filter((id) => gone.has(id)));
	const spoken = spokenOf(project, rest);
	const kept: SceneObject[] = [];
	for (const object of objects) {
		if (!gone.has(object.id)) {
			kept.push(object);
			continue;
		}
		const told = toldOf(object) as Told;
		const stays = spoken.has(object.id);
		if (!told.gone) report.went.push({ id: object.id, path: told.node, kept: stays });
		if (!stays) continue;
		const { parent, ...alone } = object;
		// Its parent may be gone for good.
		const own = parent !== undefined && gone.has(parent) && !spoken.has(parent) ? alone : object;
		kept.push({
			...own,
			active: false,
			extras: { ...(object.extras as object), import: written({ ...told, gone: true }) },
		});
	}
	return { ...project, scene: { ...project.scene, objects: kept } };
}

/** @param blank whether nothing was made yet: the cameras a new scene came with give way to those of the level */
function camerasOf(
	level: Level,
	before: Project,
	idOf: ReadonlyMap<string, string>,
	file: string,
	blank: boolean,
): Camera[] {
	const above = cameraAbove(level);
	const out = blank && (above || level.cameras.length > 0) ? [] : [...before.scene.cameras];
	if (above && out.length === 0) out.push(above);
	const free = new FreeIds(out.map((c) => c.id));
	const places = new Map<string, number>();
	out.forEach((c, i) => {
		const told = toldOfCamera(c);
		if (told?.file === file && !places.has(told.node)) places.set(told.node, i);
	});
	for (const { path, name, parent, camera } of level.cameras) {
		const at = places.get(path) ?? -1;
		const object = parent === null ? undefined : idOf.get(parent);
		const figure = figureOf([camera, object ?? null]);
		const told = { file, node: path, figure };
		if (at < 0) {
			const id = free.take(name);
			out.push({ id, ...camera, ...(object === undefined ? {} : { object }), extras: { import: told } } as Camera);
			continue;
		}
		const now = out[at] as Camera;
		if (toldOfCamera(now)?.figure === figure) continue;
		const { object: _, rotation: _r, ...rest } = now as Camera & { object?: string };
		out[at] = {
			...rest,
			...camera,
			name: now.name,
			...(object === undefined ? {} : { object }),
			extras: { ...(now.extras as object), import: told },
		} as Camera;
	}
	return out;
}

/** Whether reading a level again changed nothing that is written. */
export const isUnchanged = (before: Project, after: Project): boolean => writeProject(before) === writeProject(after);
