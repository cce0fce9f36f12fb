/** What is wrong with the project, or worth a look, without being asked: by level, with a place to go to, and what is ignored. */
import { buildWorld, FINDING_RULES, type Finding, type Level, type Project, type World } from '@frelk/core';
import jsonPatch from 'fast-json-patch';
import { useEffect, useMemo, useState } from 'react';
import { useNavigate } from 'react-router';
import { nameOf } from '../../model/names';
import { useBench, useBenchStore } from '../../model/use-bench';
import { Button, Popover, Select, TextField } from '../../ui/controls';
import { findingsIn } from '../../workers/client';
import { PlacePicture } from './place-picture';

const LEVELS: readonly Level[] = ['error', 'warning', 'note'];
const WORDS: Record<Level, string> = { error: 'Wrong', warning: 'Likely wrong', note: 'Worth a look' };
const SIGNS: Record<Level, string> = { error: '✕', warning: '▲', note: '○' };

/** The object or query a place in the file lies in. */
function placeOf(project: Project, path: string): { object?: string; query?: string; run?: string } {
	const found = /^(scene\.objects|queries|checks|runs|maps)\[(\d+)\]/.exec(path);
	const at = Number(found?.[2]);
	switch (found?.[1]) {
		case 'scene.objects':
			return { object: project.scene.objects[at]?.id };
		case 'queries':
			return { query: project.queries[at]?.id };
		case 'maps':
			return { query: project.maps?.[at]?.query };
		case 'runs':
			return { run: project.runs?.[at]?.id };
		case 'checks': {
			const check = project.checks?.[at];
			return check && 'query' in check ? { query: check.query } : {};
		}
		default:
			return {};
	}
}

/** The objects a finding is about, by their places in the file. */
export function objectsOf(project: Project, { path, related }: Pick<Finding, 'path' | 'related'>): string[] {
	const ids = [path, ...related].flatMap((at) => placeOf(project, at).object ?? []);
	return [...new Set(ids)];
}

/** What is ignored, with the reason. */
interface Ignored {
	rule: string;
	path: string;
	why?: string;
}

const ignoredIn = ({ extras }: Pick<Project, 'extras'>): Ignored[] => {
	const list = (extras as { findings?: unknown } | undefined)?.findings;
	return Array.isArray(list)
		? list.filter((f): f is Ignored => typeof f?.rule === 'string' && typeof f?.path === 'string')
		: [];
};

export default function Findings() {
	const store = useBenchStore();
	const navigate = useNavigate();
	const key = useBench((s) => s.key);
	const project = useBench((s) => s.project);
	const [list, setList] = useState<Finding[] | null>(null);
	const [looking, setLooking] = useState<string | null>('');
	const [trouble, setTrouble] = useState<string | null>(null);
	const [rule, setRule] = useState('');
	useEffect(() => {
		let over = false;
		setLooking('');
		setTrouble(null);
		const job = findingsIn(project, (now) => !over && setLooking(now));
		job.done.then(
			(found) => {
				if (over) return;
				setList(found);
				setLooking(null);
			},
			(error) => {
				if (over) return;
				setTrouble(error instanceof Error ? error.message : String(error));
				setLooking(null);
			},
		);
		return () => {
			over = true;
			job.cancel();
		};
	}, [project]);
	const go = ({ path, related }: Finding) => {
		// Of several told together the first.
		const { object, query, run } = placeOf(project, path === 'scene.objects' ? (related[0] ?? path) : path);
		if (run) return void navigate(`/p/${key}/time?run=${encodeURIComponent(run)}`);
		if (object) store.getState().pick(object);
		if (query) store.getState().open(query);
		void navigate(object || query ? `/p/${key}` : `/p/${key}/filters`);
	};
	const world = useMemo(() => buildWorld(project), [project]);
	const ignored = ignoredIn(project);
	const askAgain = (at: number) =>
		store.getState().editPlain('Look for a finding again', (draft) => {
			const { findings: _, ...extras } = (draft.extras ?? {}) as Record<string, unknown>;
			const rest = ignored.filter((_one, i) => i !== at);
			draft.extras = { ...extras, ...(rest.length > 0 ? { findings: rest } : {}) };
		});
	const ignore = (f: Finding, why: string) =>
		store.getState().editPlain('Ignore a finding', (draft) => {
			const extras = (draft.extras ?? {}) as Record<string, unknown>;
			const before = Array.isArray(extras.findings) ? extras.findings : [];
			draft.extras = {
				...extras,
				findings: [...before, { rule: f.rule, path: f.path, ...(why === '' ? {} : { why }) }],
			};
		});
	const settle = (f: Finding) => {
		if (!f.patch) return;
		const next = jsonPatch.applyPatch(JSON.parse(JSON.stringify(project)), f.patch).newDocument as Project;
		store.getState().put(f.message, next);
	};
	const shown = (list ?? []).filter((f) => rule === '' || f.rule === rule);
	const rules = [...new Set((list ?? []).map((f) => f.rule))];
	return (
		<section aria-label="Findings" className="p-4">
			<div className="mb-3 flex flex-wrap items-center gap-3">
				<p role="status">
					{looking !== null
						? `Looking${looking === '' ? '' : ` for ${looking}`}…`
						: list && `${list.length} ${list.length === 1 ? 'finding' : 'findings'}`}
				</p>
				<Select
					label="Rule"
					value={rule}
					options={[{ value: '', label: 'all rules' }, ...rules.map((r) => ({ value: r, label: r }))]}
					onChange={setRule}
				/>
			</div>
			{trouble !== null && (
				<p role="alert" className="text-cut">
					They could not be looked for: {trouble}
				</p>
			)}
			{list?.length === 0 && looking === null && <p className="text-quiet">Nothing was found.</p>}
			{LEVELS.map((level) => {
				const of = shown.filter((f) => f.level === level);
				if (of.length === 0) return null;
				return (
					<section key={level} className="mb-4">
						<h3 className="font-semibold">
							<span aria-hidden="true">{SIGNS[level]}</span> {WORDS[level]}{' '}
							<span className="figure text-quiet">{of.length}</span>
						</h3>
						<ul>
							{[...new Set(of.map((f) => f.rule))].map((id) => (
								<Rule
									key={id}
									id={id}
									findings={of.filter((f) => f.rule === id)}
									project={project}
									world={world}
									act={(f) => ({ go: () => go(f), settle: () => settle(f), ignore: (why) => ignore(f, why) })}
								/>
							))}
						</ul>
					</section>
				);
			})}
			{ignored.length > 0 && (
				<details className="text-[12.5px]">
					<summary className="min-h-6 cursor-pointer text-quiet">{ignored.length} ignored</summary>
					<ul aria-label="Ignored">
						{ignored.map((f, i) => (
							<li key={`${f.rule} ${f.path}`} className="flex items-center gap-2 border-t py-0.5">
								<span className="min-w-0 flex-1 [overflow-wrap:anywhere]">
									<span className="figure text-quiet">
										{f.rule} · {f.path}
									</span>{' '}
									{f.why}
								</span>
								<Button quiet aria-label={`Look for ${f.rule} at ${f.path} again`} onClick={() => askAgain(i)}>
									Look again
								</Button>
							</li>
						))}
					</ul>
				</details>
			)}
		</section>
	);
}

/** Of one rule so many findings are shown, until all are wanted. */
const FEW = 4;

/** A rule that found something: what it looks for, said once, and what it found. */
function Rule({
	id,
	findings,
	project,
	world,
	act,
}: {
	id: string;
	findings: readonly Finding[];
	project: Project;
	world: World;
	act: (f: Finding) => Acts;
}) {
	const [isWhole, setWhole] = useState(false);
	const shown = isWhole ? findings : findings.slice(0, FEW);
	const rule = FINDING_RULES.find((r) => r.id === id);
	return (
		<li className="border-t py-1">
			<p className="px-1 text-[12px] text-quiet">
				<span className="figure">{id}</span>
				{findings.length > 1 && <span className="figure"> × {findings.length}</span>} · {rule?.about}{' '}
				{/* Parts of the interface stand between asterisks. */}
				<strong className="font-semibold text-ink">To mend it:</strong> {rule?.mend.replaceAll('*', '')}
			</p>
			<ul>
				{shown.map((f) => (
					<Row key={f.path} finding={f} project={project} world={world} acts={act(f)} />
				))}
			</ul>
			{findings.length > FEW && (
				<button
					type="button"
					aria-expanded={isWhole}
					className="min-h-6 px-1 text-[12px] text-quiet hover:underline"
					onClick={() => setWhole(!isWhole)}
				>
					{isWhole ? 'Show fewer' : `${findings.length - FEW} more`}
				</button>
			)}
		</li>
	);
}

interface Acts {
	go: () => void;
	settle: () => void;
	/** @param why the reason, as it is kept in the file */
	ignore: (why: string) => void;
}

/** So many objects are named beside a finding. */
const CHIPS = 8;

/** One finding: its sentence, the objects it is about, and the place. */
function Row({ finding, project, world, acts }: { finding: Finding; project: Project; world: World; acts: Acts }) {
	const [lit, setLit] = useState<string | null>(null);
	const objects = useMemo(() => objectsOf(project, finding), [project, finding]);
	return (
		<li className="flex items-start gap-2 py-0.5">
			<div className="min-w-0 flex-1">
				<button
					type="button"
					className="w-full px-1 py-0.5 text-left [overflow-wrap:anywhere] hover:bg-[var(--wash)]"
					onClick={acts.go}
				>
					{finding.message}
				</button>
				{objects.length > 0 && (
					<ul aria-label="Objects" className="flex flex-wrap gap-1 px-1">
						{objects.slice(0, CHIPS).map((id) => (
							<Chip key={id} id={id} name={nameOf(project, 'object', id)} light={setLit} />
						))}
						{objects.length > CHIPS && <li className="text-[12px] text-quiet">{objects.length - CHIPS} more</li>}
					</ul>
				)}
			</div>
			<PlacePicture world={world} objects={objects} lit={lit} />
			{finding.patch && <Button onClick={acts.settle}>Settle it</Button>}
			<Popover label="Ignore" trigger={<Button quiet>Ignore</Button>}>
				<Reason ignore={acts.ignore} />
			</Popover>
		</li>
	);
}

/** An object that lights up in the picture while it is pointed at, and is taken in hand when it is pressed. */
function Chip({ id, name, light }: { id: string; name: string; light: (id: string | null) => void }) {
	const store = useBenchStore();
	const navigate = useNavigate();
	return (
		<li>
			<button
				type="button"
				className="min-h-6 rounded-[3px] border px-1.5 text-[12px] hover:bg-[var(--wash)]"
				onPointerEnter={() => light(id)}
				onPointerLeave={() => light(null)}
				onFocus={() => light(id)}
				onBlur={() => light(null)}
				onClick={() => {
					store.getState().pick(id);
					void navigate(`/p/${store.getState().key}`);
				}}
			>
				{name}
			</button>
		</li>
	);
}

function Reason({ ignore }: { ignore: (why: string) => void }) {
	const [why, setWhy] = useState('');
	return (
		<div className="w-64 space-y-2">
			<TextField
				label="Reason"
				placeholder="Reason, kept in the file"
				className="w-full"
				value={why}
				onCommit={setWhy}
			/>
			<Button data-chosen onClick={() => ignore(why)}>
				Ignore it
			</Button>
		</div>
	);
}
