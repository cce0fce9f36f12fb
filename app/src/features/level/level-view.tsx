/** A level before it is taken: what each node would become, what no rule speaks of, what it does to the project and its answers. */
import { type AnswerChange, metres, type Project, type QuickAnswer } from '@frelk/core';
import { mergeProjects } from '@frelk/core/editing';
import { placed } from '@frelk/core/geometry';
import type { NamingRules } from '@frelk/interchange';
import { useEffect, useMemo, useRef, useState, useSyncExternalStore } from 'react';
import { useNavigate } from 'react-router';
import type { P3 } from '../../drawing/view';
import type { BenchStore } from '../../model/bench-state';
import { levelFor, onLevel } from '../../model/incoming';
import { nameOf } from '../../model/names';
import { createBench } from '../../model/store';
import { BenchContext, useBench, useBenchStore } from '../../model/use-bench';
import { Button } from '../../ui/controls';
import { Boundary } from '../../ui/part';
import { VirtualRows } from '../../ui/virtual-rows';
import type { LevelMade, LevelShown } from '../../workers/level';
import { useBrought } from '../project/dropped';
import { Stage } from '../stage/stage';
import { GivenUp } from './level-work';
import { RuleList } from './rules';
import { useLevel } from './use-level';

const NONE: NamingRules = {};

/** The rules kept in a project; of what is none, nothing. */
const kept = (project: Project): NamingRules => {
	const { extras } = project;
	const found = typeof extras === 'object' && extras !== null ? (extras as Record<string, unknown>).import : undefined;
	return typeof found === 'object' && found !== null ? (found as NamingRules) : NONE;
};

const SHOWS = [
	{ value: 'all', label: 'All' },
	{ value: 'unmatched', label: 'No rule' },
	{ value: 'left', label: 'Left out' },
	{ value: 'notes', label: 'With a note' },
] as const;

export default function LevelView() {
	const store = useBenchStore();
	const key = useBench((s) => s.key);
	const project = useBench((s) => s.project);
	const files = useSyncExternalStore(
		(tell) => onLevel(tell),
		() => levelFor(key),
		() => null,
	);
	const [rules, setRules] = useState<NamingRules>(() => kept(project));
	const { shown, made, progress, trouble, cancel, trying, stop, layNow, compare } = useLevel(files, project, rules);
	const [taking, setTaking] = useState(false);
	const input = useRef<HTMLInputElement>(null);
	const bring = useBrought();
	const navigate = useNavigate();
	const levels = files?.filter((f) => /\.(glb|gltf|svg)$/i.test(f.name)).map((f) => f.name) ?? [];
	const name = levels.length > 0 ? levels.join(', ') : (files?.[0]?.name ?? null);
	/** What is taken is what stands there at the click: laid once more, and only what differs goes into the project. */
	const take = async () => {
		setTaking(true);
		try {
			const { project: before } = store.getState();
			const laid = await layNow(before);
			if (!laid?.project) return;
			const after = JSON.parse(laid.project) as Project;
			const { project: now, put } = store.getState();
			const next = now === before ? after : mergeProjects(before, after, now).project;
			put(`Read ${name ?? 'a level'}`, next);
			// Where it is refused, that says why.
			if (store.getState().project === now && next !== now) return;
			void navigate(`/p/${key}`);
		} catch (error) {
			if (!(error instanceof GivenUp))
				store.getState().refuse(`The level was not taken: ${error instanceof Error ? error.message : String(error)}`);
		} finally {
			setTaking(false);
		}
	};
	return (
		<main className="grid min-h-0 grid-rows-[auto_minmax(0,1fr)]">
			<header className="flex flex-wrap items-center gap-3 border-b bg-panel px-3 py-2">
				<h2 className="font-semibold [overflow-wrap:anywhere]">{name === null ? 'Read a level' : `Read ${name}`}</h2>
				{shown && (
					<p role="status" className="text-quiet">
						{shown.rows.length} {shown.rows.length === 1 ? 'node' : 'nodes'}
						{made && `, ${made.report.unmatched.length} match no rule, ${made.report.leftOut.length} left out`}
						{shown.cameras > 0 && `, ${shown.cameras} ${shown.cameras === 1 ? 'camera' : 'cameras'}`}
					</p>
				)}
				{progress && (
					<p role="status" className="flex items-center gap-2 text-quiet">
						{progress.what}… {Math.round(100 * progress.done)} % <Button onClick={cancel}>Cancel</Button>
					</p>
				)}
				{trying && !taking && (
					<p role="status" className="flex items-center gap-2 text-quiet">
						Trying the rules… <Button onClick={stop}>Stop</Button>
					</p>
				)}
				<span className="ml-auto flex gap-2">
					<Button onClick={() => input.current?.click()}>{name === null ? 'Choose files…' : 'Other files…'}</Button>
					<Button onClick={() => void navigate(`/p/${key}`)}>{shown ? 'Leave it' : 'Back to the bench'}</Button>
					{shown && (
						<Button
							className="border-2! border-ink! font-semibold"
							disabled={!made?.project || taking}
							onClick={() => void take()}
						>
							{taking ? 'Taking…' : 'Take it into the project'}
						</Button>
					)}
				</span>
				<input
					ref={input}
					type="file"
					multiple
					accept=".glb,.gltf,.bin,.svg"
					className="sr-only"
					aria-label="Files of the level"
					tabIndex={-1}
					onChange={(event) => {
						const chosen = [...(event.target.files ?? [])];
						event.target.value = '';
						if (chosen.length > 0) bring(chosen);
					}}
				/>
			</header>
			{trouble !== null && (
				<p role="alert" className="self-start border-l-2 border-cut bg-panel p-3">
					<strong>Not read.</strong> <span className="[overflow-wrap:anywhere] whitespace-pre-line">{trouble}</span>
				</p>
			)}
			{files === null && (
				<p className="p-10 text-center text-quiet">
					Drop a level anywhere on this page: a .glb, a .gltf with its .bin, or an .svg for a flat scene. It is shown
					here before anything of it is taken.
				</p>
			)}
			{shown && trouble === null && (
				<div className="grid min-h-0 grid-cols-[19rem_minmax(0,1fr)_18rem] max-[1140px]:grid-cols-[16rem_minmax(0,1fr)_15rem] max-[760px]:grid-cols-[minmax(0,1fr)] max-[760px]:grid-rows-[auto_32rem_auto] max-[760px]:overflow-auto">
					<div className="flex min-h-0 flex-col border-r bg-panel [&>section]:flex-1">
						<RuleList
							rules={rules}
							matches={made?.report.matches ?? []}
							layers={project.scene.layers.map((l) => l.id)}
							tags={project.scene.tags.map((t) => t.id)}
							onChange={setRules}
						/>
					</div>
					<Nodes shown={shown} made={made} compare={compare} project={project} main={store} />
					<aside aria-label="What it does" className="min-h-0 overflow-auto border-l bg-panel p-3 text-[12.5px]">
						{made ? (
							<Does made={made} before={project} shown={shown} />
						) : (
							<p className="text-quiet">Trying the rules…</p>
						)}
					</aside>
				</div>
			)}
		</main>
	);
}

function Nodes({
	shown,
	made,
	compare,
	project,
	main,
}: {
	shown: LevelShown;
	made: LevelMade | null;
	compare: (at: number) => Promise<{ gap: number | null; edges: number[]; vertices: number[] } | null> | undefined;
	project: Project;
	main: BenchStore;
}) {
	const [which, setWhich] = useState<(typeof SHOWS)[number]['value']>('all');
	const [open, setOpen] = useState<number | null>(null);
	// Nothing is changed here but by rules.
	const [bench] = useState(() =>
		createBench(main.getState().key, project, {
			cardSide: 'queries',
			edit: () => {},
			editPlain: () => {},
			put: () => {},
			beginGesture: () => {},
		}),
	);
	const after = useMemo(() => (made?.project ? (JSON.parse(made.project) as Project) : null), [made]);
	useEffect(() => {
		if (!after) return;
		bench.getState().stand(after);
		bench.getState().open(null);
	}, [bench, after]);
	const [seen, setSeen] = useState<{ gap: number | null; edges: number[]; vertices: number[] } | null>(null);
	const noted = useMemo(
		() => new Map([...shown.notes, ...(made?.report.notes ?? [])].map((n) => [n.path, n.message])),
		[shown, made],
	);
	const rows = useMemo(
		() =>
			shown.rows
				.map((row, i) => ({ row, i, how: made?.made[i] ?? null }))
				.filter(({ how, row }) =>
					which === 'all'
						? true
						: which === 'unmatched'
							? how?.rules.length === 0
							: which === 'left'
								? how?.leave
								: noted.has(row.path),
				),
		[shown, made, which, noted],
	);
	const idOf = useMemo(() => {
		const by = new Map<string, string>();
		for (const o of after?.scene.objects ?? []) {
			const told = (o.extras as { import?: { node?: string } } | undefined)?.import?.node;
			if (told !== undefined) by.set(told, o.id);
		}
		return by;
	}, [after]);
	const choose = (i: number) => {
		setOpen(i);
		setSeen(null);
		const id = idOf.get(shown.rows[i]?.path ?? '');
		if (id !== undefined) bench.getState().pickAll([id]);
		void compare(i)?.then(setSeen);
	};
	const path = open === null ? '' : (shown.rows[open]?.path ?? '');
	return (
		<div className="grid min-h-0 min-w-0 grid-rows-[minmax(200px,1fr)_auto_minmax(0,44%)]">
			<BenchContext.Provider value={bench}>
				<Boundary what="The stage">
					<Preview id={idOf.get(path) ?? null} edges={seen} />
				</Boundary>
			</BenchContext.Provider>
			<div className="flex flex-wrap items-center gap-2 border-y bg-panel px-3 py-1 text-[12.5px]">
				<fieldset className="flex gap-1">
					<legend className="sr-only">Nodes shown</legend>
					{SHOWS.map((s) => (
						<Button
							key={s.value}
							aria-pressed={which === s.value}
							className={which === s.value ? 'border-ink! font-semibold' : ''}
							onClick={() => setWhich(s.value)}
						>
							{s.label}
						</Button>
					))}
				</fieldset>
				<span className="text-quiet">{rows.length} shown</span>
				{seen && open !== null && (
					<span role="status" className="ml-auto">
						{seen.gap === null
							? 'its triangles themselves'
							: seen.gap < 1e-6
								? 'shape and mesh lie on each other'
								: `shape and mesh at most ${metres(seen.gap)} apart`}
						{noted.has(path) && `; ${noted.get(path)}`}
					</span>
				)}
			</div>
			<VirtualRows
				items={rows}
				keyOf={({ row }) => row.path}
				height={28}
				label="Nodes of the level"
				className="min-h-0"
			>
				{({ row, i, how }) => (
					<button
						type="button"
						aria-pressed={open === i}
						className={`grid w-full grid-cols-[minmax(0,1.6fr)_minmax(0,1fr)_minmax(0,1fr)_minmax(0,.9fr)] items-baseline gap-2 border-l-3 px-2 py-0.5 text-left text-[12.5px] hover:bg-[var(--wash)] ${open === i ? 'border-l-ink bg-[var(--wash)]' : 'border-l-transparent'} ${how?.leave ? 'text-quiet line-through' : ''}`}
						onClick={() => choose(i)}
					>
						<span className="truncate" title={row.path}>
							<span className="text-quiet">
								{row.path.includes('/') ? `${row.path.slice(0, row.path.lastIndexOf('/'))}/` : ''}
							</span>
							<span className="font-semibold">{row.path.slice(row.path.lastIndexOf('/') + 1)}</span>
							{noted.has(row.path) && <span className="text-cut"> !</span>}
						</span>
						<span className="truncate text-quiet">{row.has}</span>
						<span className="truncate">
							{how?.leave
								? 'left out'
								: how
									? `${how.layer}${how.tags.length > 0 ? ` · ${how.tags.join(', ')}` : ''}`
									: ''}
						</span>
						<span className="truncate text-quiet">
							{how?.shape}
							{how && how.rules.length > 0 ? ` · rule ${how.rules.map((r) => r + 1).join(', ')}` : ' · no rule'}
						</span>
					</button>
				)}
			</VirtualRows>
		</div>
	);
}

/** The stage of the project as it would be, with the mesh of the chosen node drawn over what stands for it. */
function Preview({ id, edges }: { id: string | null; edges: { edges: number[]; vertices: number[] } | null }) {
	const { world } = useBench((s) => s.derived);
	const over = useMemo(() => {
		const object = id === null ? undefined : world.objectById.get(id);
		if (!object || !edges) return null;
		const { position, rotation, scale } = object;
		const at = (i: number): P3 =>
			placed(position, rotation, scale, [edges.vertices[3 * i], edges.vertices[3 * i + 1], edges.vertices[3 * i + 2]]);
		const lines: [P3, P3][] = [];
		for (let i = 0; i + 1 < edges.edges.length; i += 2) lines.push([at(edges.edges[i]), at(edges.edges[i + 1])]);
		return { points: [], handles: [], lines };
	}, [world, id, edges]);
	return <Stage over={over} looksOnly />;
}

const answerWords = (project: Project, answer: QuickAnswer | null): string => {
	if (answer === null) return 'not there';
	const names = answer.objects.map((id) => nameOf(project, 'object', id)).join(', ');
	return answer.status === 'selected' ? names : answer.status === 'tie' ? `tie: ${names}` : answer.status;
};

function Does({ made, before, shown }: { made: LevelMade; before: Project; shown: LevelShown }) {
	const { report, problems, answers } = made;
	const after = useMemo(() => (made.project ? (JSON.parse(made.project) as Project) : before), [made, before]);
	const list = (title: string, items: readonly { id: string; words: string }[]) =>
		items.length > 0 && (
			<section className="mb-3">
				<h3 className="font-semibold">
					{items.length} {title}
				</h3>
				<ul>
					{items.slice(0, 40).map((item) => (
						<li key={item.id} className="[overflow-wrap:anywhere]">
							{item.words}
						</li>
					))}
					{items.length > 40 && <li className="text-quiet">and {items.length - 40} more</li>}
				</ul>
			</section>
		);
	const name = (id: string) => nameOf(after, 'object', id);
	return (
		<>
			{problems.length > 0 && (
				<section role="alert" className="mb-3 text-cut">
					<h3 className="font-semibold">It cannot be taken as it is</h3>
					<ul>
						{problems.slice(0, 10).map((p) => (
							<li key={p}>{p}</li>
						))}
					</ul>
				</section>
			)}
			{shown.ownProject !== null && (
				<p className="mb-3">
					This file was written by Frelk and carries the project “{shown.ownProject}”. Imported on the page of all
					projects it comes back the very same; here its nodes are read.
				</p>
			)}
			{report.notes.filter(isOfProject).map(({ message }) => (
				<p key={message} role="note" className="mb-3 font-semibold">
					{message.charAt(0).toUpperCase() + message.slice(1)}.
				</p>
			))}
			<Answers answers={answers} before={before} after={after} />
			{list(
				'come',
				report.came.map((c) => ({ id: c.id, words: name(c.id) })),
			)}
			{list(
				'go',
				report.went.map((w) => ({
					id: w.id,
					words: `${nameOf(before, 'object', w.id)}${w.kept ? ': kept without effect, something speaks of it' : ''}`,
				})),
			)}
			{list(
				'move',
				report.moved.map((m) => ({ id: m.id, words: `${name(m.id)}${m.by > 0 ? ` by ${metres(m.by)}` : ''}` })),
			)}
			{list(
				'change',
				report.changed.map((c) => ({ id: c.id, words: `${name(c.id)}: ${c.what.join(', ')}` })),
			)}
			{list(
				'stay as said here',
				report.kept.map((k) => ({ id: `${k.id}${k.what}`, words: `${name(k.id)}: ${k.what}` })),
			)}
			{list(
				'run over time',
				report.runs.map((r) => ({
					id: r.id,
					words: `${r.name}: ${r.tracks} ${r.tracks === 1 ? 'track' : 'tracks'}, ${r.keys} keys`,
				})),
			)}
			{list(
				'notes',
				report.notes.filter((n) => !isOfProject(n)).map((n, i) => ({ id: `${i}`, words: `${n.path}: ${n.message}` })),
			)}
			{report.came.length + report.went.length + report.moved.length + report.changed.length + report.runs.length ===
				0 && <p>Nothing in the project would change.</p>}
		</>
	);
}

/** Whether a note says why the project that rides in a file was not taken: that comes before all that is read instead. */
const isOfProject = ({ path }: { path: string }): boolean => path === 'extras.frelk';

function Answers({ answers, before, after }: { answers: readonly AnswerChange[]; before: Project; after: Project }) {
	if (answers.length === 0) return before.queries.length > 0 ? <p className="mb-3">No answer changes.</p> : null;
	return (
		<section aria-label="Answers that change" className="mb-3">
			<h3 className="font-semibold text-cut">
				{answers.length} {answers.length === 1 ? 'answer changes' : 'answers change'}
			</h3>
			<ul>
				{answers.slice(0, 60).map((c) => (
					<li key={`${c.moment} ${c.query}`}>
						<span className="font-semibold">{nameOf(after, 'query', c.query)}</span>
						{c.moment !== null && <span className="text-quiet"> at {nameOf(after, 'moment', c.moment)}</span>}:{' '}
						{answerWords(before, c.before)} → {answerWords(after, c.after)}
					</li>
				))}
			</ul>
		</section>
	);
}
