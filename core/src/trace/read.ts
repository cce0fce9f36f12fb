/** Reading a trace line by line: each line by itself, so that one of any length needs no more than its longest line. */
import { MAX_NESTING } from '../project/bounds';
import { oneLine } from '../project/describe';
import { addIssues, didYouMean, formatProblem, type Problem, Problems, quoted } from '../project/problems';
import type { Project } from '../project/schema';
import { TRACE_FORMAT, type TraceHead, type TraceLine, traceHeadSchema, traceLineSchema } from './schema';

/** Characters of a line; a game that has more to say says it in several. */
export const MAX_LINE = 4_000_000;

/** A line of a trace that is none, with its number and what would be right. */
export class TraceError extends Error {
	constructor(
		readonly line: number,
		message: string,
	) {
		super(message);
	}
}

const told = (problems: readonly Problem[]): string => problems.slice(0, 3).map(formatProblem).join('; ');

function jsonOf(text: string, line: number): unknown {
	if (text.length > MAX_LINE)
		throw new TraceError(line, `is ${text.length} characters long; at most ${MAX_LINE} are read`);
	let data: unknown;
	try {
		data = JSON.parse(text);
	} catch (error) {
		throw new TraceError(line, `is not JSON: ${oneLine((error as Error).message)}; a trace has one object a line`);
	}
	if (typeof data !== 'object' || data === null || Array.isArray(data))
		throw new TraceError(line, 'expected an object; a trace has one a line');
	return data;
}

/** Whether lists and objects lie deeper in each other than in any trace. */
function tooDeep(data: unknown): boolean {
	const stack: { value: unknown; depth: number }[] = [{ value: data, depth: 1 }];
	for (let top = stack.pop(); top; top = stack.pop()) {
		if (typeof top.value !== 'object' || top.value === null) continue;
		if (top.depth > MAX_NESTING) return true;
		for (const value of Object.values(top.value)) stack.push({ value, depth: top.depth + 1 });
	}
	return false;
}

function checked<T>(
	schema: { safeParse: (data: unknown) => { success: boolean; error?: unknown } },
	text: string,
	line: number,
): T {
	const data = jsonOf(text, line);
	if (tooDeep(data)) throw new TraceError(line, `is nested more than ${MAX_NESTING} levels deep`);
	const parsed = schema.safeParse(data);
	if (!parsed.success) {
		const problems = new Problems();
		addIssues(parsed.error as never, data, problems);
		throw new TraceError(line, told(problems.list));
	}
	return data as T;
}

/** @throws TraceError where the first line is not that of a trace, or names another project */
export function readTraceHead(text: string, project?: Project): TraceHead {
	const head = checked<TraceHead>(traceHeadSchema, text, 1);
	if (project && head.project !== undefined && head.project !== project.id)
		throw new TraceError(
			1,
			`is a trace of ${quoted(head.project)}, not of "${project.id}"; leave "project" out where ids are the same in both`,
		);
	return head;
}

/** What a line may lay over things is held against the project: ids that say what an object is must be known. */
function checkNames(project: Project, names: Names, line: TraceLine, number: number): void {
	const fail = (path: string, what: string, id: string, known: Iterable<string>) => {
		throw new TraceError(number, `${path}: no ${what} ${quoted(id)}${didYouMean(id, known)}`);
	};
	for (const [id, overlay] of Object.entries(line.objects ?? {})) {
		const object = names.objects.get(id);
		if (!object) continue;
		const at = `objects.${id}`;
		if (overlay.layer !== undefined && !names.layers.has(overlay.layer))
			fail(`${at}.layer`, 'layer', overlay.layer, names.layers);
		for (const tag of overlay.tags ?? []) if (!names.tags.has(tag)) fail(`${at}.tags`, 'tag', tag, names.tags);
		if (overlay.side != null && !names.sides.has(overlay.side)) fail(`${at}.side`, 'side', overlay.side, names.sides);
		if (overlay.parent != null && !names.objects.has(overlay.parent))
			fail(`${at}.parent`, 'object', overlay.parent, names.objects.keys());
		const shapes = new Set((object.shapes ?? []).map((s) => s.id));
		for (const shape of Object.keys(overlay.shapes ?? {}))
			if (!shapes.has(shape)) fail(`${at}.shapes`, 'shape', shape, shapes);
		if (project.scene.kind === 'flat' && (overlay.rotation?.[0] || overlay.rotation?.[1]))
			throw new TraceError(number, `${at}.rotation: in a flat scene only the roll may be other than 0`);
	}
	for (const [id, overlay] of Object.entries(line.queries ?? {})) {
		const kind = names.queries.get(id);
		if (kind !== undefined && kind !== 'pick' && overlay.cursor)
			throw new TraceError(number, `queries.${id}.cursor: only a pick has a cursor; this is a ${kind}`);
	}
}

interface Names {
	layers: Set<string>;
	tags: Set<string>;
	sides: Set<string>;
	objects: Map<string, Project['scene']['objects'][number]>;
	queries: Map<string, string>;
}

/** Reads the lines of a trace of one project. The first line is read by `readTraceHead`. */
export class TraceReader {
	private readonly names: Names;

	constructor(private readonly project: Project) {
		const { scene } = project;
		this.names = {
			layers: new Set(scene.layers.map((l) => l.id)),
			tags: new Set(scene.tags.map((t) => t.id)),
			sides: new Set((scene.sides ?? []).map((s) => s.id)),
			objects: new Map(scene.objects.map((o) => [o.id, o])),
			queries: new Map(project.queries.map((q) => [q.id, q.kind])),
		};
	}

	/**
	 * @param text one line
	 * @param number its place in the file, the first being 1
	 * @throws TraceError where it is none
	 */
	line(text: string, number: number): TraceLine {
		const line = checked<TraceLine>(traceLineSchema, text, number);
		checkNames(this.project, this.names, line, number);
		return line;
	}
}

/** Whether a first line says it is one of a trace; anything else is no matter of ours. */
export const isTrace = (text: string): boolean => text.slice(0, 2000).includes(`"${TRACE_FORMAT}"`);
