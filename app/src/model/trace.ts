/** The trace that is open beside a project: read from a file, or coming from a running game. Nothing of it is part of the project. */
import type { Project } from '@frelk/core';
import { type Compared, type CutLine, LineCutter, projectAsTold, type TraceLine, TraceScene } from '@frelk/core/traces';
import { type Remote, wrap } from 'comlink';
import { createStore, type StoreApi } from 'zustand/vanilla';
import { db, whyNot } from '../data/db';
import { soundRow } from '../data/rows';
import { textOf } from '../data/text';
import type { Pushed, Seen, Sent, TraceHand } from '../workers/trace';

/** Lines of a running game that are kept; of older ones only what they told is. */
const MAX_KEPT = 20_000;
const DROPPED_AT_ONCE = 2_000;
/** Lines handed to the worker at once, and those it may be behind before the game's are no longer listened to. */
const AT_ONCE = 500;
const MAX_TROUBLES = 50;
/** A server that is gone is asked for again after so long, milliseconds. */
const AGAIN = 2000;
/** A larger file is to be opened again after a reload: it would take the room of the projects. */
const MAX_BYTES_KEPT = 50e6;

export interface TraceState {
	/** The file's name, or what a running game is called; null where none is open. */
	name: string | null;
	live: boolean;
	/** Of a running game: whether the server is heard. */
	heard: boolean;
	/** Listens, but stays where it is. */
	paused: boolean;
	seen: readonly Seen[];
	/** Lines that came and are no longer kept. */
	dropped: number;
	/** Lines the server had no longer when they were asked for. */
	lost: number;
	/** Lines under way to the worker. */
	waiting: number;
	asked: number;
	differ: number;
	troubles: readonly { n: number; message: string }[];
	strangers: ReadonlySet<string>;
	/** Why the file could not be opened. */
	failed: string | null;
}

const EMPTY: TraceState = {
	name: null,
	live: false,
	heard: false,
	paused: false,
	seen: [],
	dropped: 0,
	lost: 0,
	waiting: 0,
	asked: 0,
	differ: 0,
	troubles: [],
	strangers: new Set(),
	failed: null,
};

export interface Trace {
	store: StoreApi<TraceState>;
	/** Reads a file from its first line to its last, and keeps it for as long as it is open: it is there after a reload. */
	openFile: (file: File, project: Project) => Promise<void>;
	/** Opens again what was open when the page was left, where nothing is. */
	restore: (project: Project) => Promise<void>;
	/** Follows the game that traces this project to the server of this page. */
	follow: (project: Project) => void;
	pause: (paused: boolean) => void;
	/** Goes through all lines again: the project has become another. */
	again: (project: Project) => Promise<void>;
	/** The project as told up to a line. @param at its place among those kept */
	standsAt: (project: Project, at: number) => Project;
	/** Places of the lines before, for a run made of a stretch. */
	lines: () => TraceLine[];
	close: () => void;
}

const open = new Map<string, Trace>();

/** The trace beside a project, one a page. */
export function traceOf(key: string): Trace {
	let trace = open.get(key);
	if (!trace) {
		trace = createTrace(key);
		open.set(key, trace);
	}
	return trace;
}

const isOther = (c: Compared): boolean => c.result !== 'same';

function createTrace(key: string): Trace {
	const store = createStore<TraceState>(() => EMPTY);
	let worker: Worker | null = null;
	let hand: Remote<TraceHand> | null = null;
	let source: EventSource | null = null;
	let queue: Sent[] = [];
	let busy = false;
	/** What the worker is at: the lines of the queue, or all of them again. */
	let work: Promise<void> = Promise.resolve();
	/** Counts the traces opened here, and what was begun of them: what an older one still brings is not taken. */
	let opened = 0;
	let turn = 0;
	/** The scene as lines told it that are kept no longer. */
	let base: TraceScene | null = null;
	/** The scene last stood at, to go on from there. */
	let last: { scene: TraceScene; at: number } | null = null;

	const hire = async (project: Project) => {
		worker = new Worker(new URL('../workers/trace.ts', import.meta.url), { type: 'module', name: 'frelk-trace' });
		hand = wrap<TraceHand>(worker);
		await hand.open(textOf(project));
	};
	const take = ({ seen, troubles }: Pushed) => {
		const now = store.getState();
		const strangers = new Set(now.strangers);
		let { asked, differ } = now;
		for (const { compared, unknown } of seen) {
			for (const id of unknown) if (strangers.size < 1000) strangers.add(id);
			asked += compared.length;
			differ += compared.filter(isOther).length;
		}
		let kept: readonly Seen[] = [...now.seen, ...seen];
		let { dropped } = now;
		if (now.live && kept.length > MAX_KEPT) {
			for (const { line } of kept.slice(0, DROPPED_AT_ONCE)) base?.tell(line);
			kept = kept.slice(DROPPED_AT_ONCE);
			dropped += DROPPED_AT_ONCE;
			last = null;
		}
		store.setState({
			seen: kept,
			dropped,
			asked,
			differ,
			strangers: strangers.size === now.strangers.size ? now.strangers : strangers,
			troubles: [...now.troubles, ...troubles].slice(0, MAX_TROUBLES),
			waiting: queue.length,
		});
	};
	/** It stays as it is: a running game is listened to no longer. */
	const fail = (error: unknown) => {
		source?.close();
		queue = [];
		store.setState({ failed: error instanceof Error ? error.message : String(error), waiting: 0 });
	};
	const drain = async () => {
		busy = true;
		const mine = turn;
		try {
			while (queue.length > 0 && hand) {
				const part = queue.slice(0, AT_ONCE);
				const pushed = await hand.push(part);
				// Lines whose answer comes too late stay in the queue: they are asked of the project as it now is.
				if (mine !== turn) return;
				queue.splice(0, part.length);
				take(pushed);
			}
		} catch (error) {
			if (mine === turn) fail(error);
		} finally {
			if (mine === turn) busy = false;
		}
	};
	/** @returns when the worker is done with what it is at: with the queue, unless all is asked again meanwhile */
	const pump = (): Promise<void> => {
		if (!busy && hand) work = drain();
		return work;
	};
	const close = () => {
		opened++;
		turn++;
		source?.close();
		source = null;
		worker?.terminate();
		worker = null;
		hand = null;
		queue = [];
		busy = false;
		base = null;
		last = null;
		store.setState(EMPTY, true);
	};
	const keep = (file: File | null) => {
		const { traces } = db();
		const kept: PromiseLike<unknown> = file ? traces.put({ key, file }) : traces.delete(key);
		// It goes on without: that it is not there after a reload is all that is lost.
		kept.then(undefined, (error: unknown) => console.error('the trace could not be kept:', whyNot(error)));
	};
	const readFile = async (file: File, project: Project) => {
		close();
		const mine = opened;
		const goesOn = () => mine === opened && store.getState().failed === null;
		store.setState({ name: file.name, waiting: 1 });
		base = new TraceScene(project);
		try {
			await hire(project);
			let n = 0;
			for await (const line of linesOf(file)) {
				if (!goesOn()) return;
				n = line.number;
				if (!('text' in line)) {
					if (n === 1) throw new Error(`line 1 ${line.message}`);
					take({ seen: [], troubles: [{ n, message: line.message }] });
					continue;
				}
				const { text } = line;
				if (n === 1) {
					await hand?.head(text, project.id);
					continue;
				}
				queue.push({ n, text });
				while (goesOn() && queue.length >= AT_ONCE) await pump();
			}
			while (goesOn() && (busy || queue.length > 0)) await pump();
			if (goesOn()) store.setState({ waiting: 0, ...(n === 0 ? { failed: 'the file is empty' } : {}) });
		} catch (error) {
			if (mine === opened) fail(error);
		}
	};
	/** Hears the server, from a line on; where it begins anew meanwhile, the key to it is another. */
	const listen = async (project: Project, mine: number, after: number) => {
		const goesOn = () => mine === opened && store.getState().failed === null;
		let last = after;
		const again = () => {
			store.setState({ heard: false });
			setTimeout(() => goesOn() && void listen(project, mine, last), AGAIN);
		};
		try {
			const key = await fetch('/api/trace/key', { method: 'POST' });
			if (!key.ok) throw new Error(`the server gives no key: ${key.status}`);
		} catch {
			// Gone for now: it is tried again until the trace is closed.
			if (goesOn()) again();
			return;
		}
		if (!goesOn()) return;
		const own = new EventSource(`/api/trace?project=${encodeURIComponent(project.id)}&after=${last}`);
		source = own;
		own.addEventListener('open', () => store.setState({ heard: true }));
		own.addEventListener('error', () => {
			// A browser tries again by itself, unless it was refused.
			if (own.readyState === 2 && goesOn()) again();
			else store.setState({ heard: false });
		});
		own.addEventListener('hello', (event) => {
			const { lost } = JSON.parse((event as MessageEvent<string>).data) as { lost: number };
			store.setState({ lost: store.getState().lost + lost, heard: true });
		});
		own.addEventListener('lines', (event) => {
			for (const text of (event as MessageEvent<string>).data.split('\n')) {
				const space = text.indexOf(' ');
				last = Number(text.slice(0, space));
				queue.push({ n: last, text: text.slice(space + 1) });
			}
			store.setState({ waiting: queue.length });
			void pump();
		});
	};
	const askAgain = async (project: Project) => {
		turn++;
		const mine = turn;
		last = null;
		const { seen } = store.getState();
		// What is kept no longer was told in the project as it was: its places hold on.
		base = new TraceScene(project);
		busy = true;
		store.setState({ waiting: seen.length });
		// Those before stand until all are there anew: who stands at a line keeps it, and who edits again meanwhile has them all.
		const anew: Pushed = { seen: [], troubles: [] };
		try {
			await hand?.open(textOf(project));
			for (let i = 0; i < seen.length && mine === turn && hand; i += AT_ONCE) {
				const pushed = await hand.again(seen.slice(i, i + AT_ONCE).map(({ n, line }) => ({ n, line })));
				anew.seen.push(...pushed.seen);
				anew.troubles.push(...pushed.troubles);
			}
			if (mine === turn) {
				const told = new Set(seen.map((s) => s.n));
				// What never became a line is wrong in the file, whatever the project.
				const troubles = store.getState().troubles.filter((t) => !told.has(t.n));
				store.setState({ seen: [], asked: 0, differ: 0, troubles, strangers: new Set() });
				take(anew);
			}
		} catch (error) {
			if (mine === turn) fail(error);
		}
		if (mine !== turn) return;
		busy = false;
		store.setState({ waiting: queue.length });
		void pump();
	};
	return {
		store,
		close() {
			close();
			keep(null);
		},
		async openFile(file, project) {
			keep(file.size <= MAX_BYTES_KEPT ? file : null);
			await readFile(file, project);
		},
		async restore(project) {
			if (store.getState().name !== null) return;
			try {
				const kept = soundRow('traces', key, await db().traces.get(key));
				if (kept && store.getState().name === null) await readFile(kept.file, project);
			} catch (error) {
				console.error('the trace that was open could not be read:', whyNot(error));
			}
		},
		follow(project) {
			close();
			keep(null);
			const mine = opened;
			store.setState({ name: 'The running game', live: true });
			base = new TraceScene(project);
			void hire(project).then(() => listen(project, mine, 0));
		},
		pause: (paused) => store.setState({ paused }),
		again(project) {
			const { name, failed } = store.getState();
			if (name !== null && failed === null) work = askAgain(project);
			return work;
		},
		standsAt(project, at) {
			const { seen } = store.getState();
			if (!last || last.at > at || last.scene.project !== project) {
				const from = base && base.project === project ? base.copy() : new TraceScene(project);
				last = { scene: from, at: -1 };
			}
			while (last.at < Math.min(at, seen.length - 1)) last.scene.tell((seen[++last.at] as Seen).line);
			return projectAsTold(last.scene);
		},
		lines: () => store.getState().seen.map((s) => s.line),
	};
}

/** The lines of a file, without reading it whole. */
async function* linesOf(file: File): AsyncGenerator<CutLine> {
	const reader = file.stream().getReader();
	const cutter = new LineCutter();
	for (;;) {
		const { done, value } = await reader.read();
		if (done) break;
		yield* cutter.push(value);
	}
	yield* cutter.end();
}
