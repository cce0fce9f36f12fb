/** What is wrong with the project, or worth a look, without being asked: by level, with a place to go to, and what is ignored. */
import { FINDING_RULES, type Finding, type Level, type Project } from '@frelk/core';
import jsonPatch from 'fast-json-patch';
import { useEffect, useState } from 'react';
import { useNavigate } from 'react-router';
import { useBench, useBenchStore } from '../../model/use-bench';
import { Button, Select } from '../../ui/controls';
import { findingsIn } from '../../workers/client';

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
	const ignore = (f: Finding) =>
		store.getState().editPlain('Ignore a finding', (draft) => {
			const extras = (draft.extras ?? {}) as Record<string, unknown>;
			const before = Array.isArray(extras.findings) ? extras.findings : [];
			draft.extras = { ...extras, findings: [...before, { rule: f.rule, path: f.path, why: f.message }] };
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
									act={(f) => ({ go: () => go(f), settle: () => settle(f), ignore: () => ignore(f) })}
								/>
							))}
						</ul>
					</section>
				);
			})}
		</section>
	);
}

/** Of one rule so many findings are shown, until all are wanted. */
const FEW = 4;

/** A rule that found something: what it looks for, said once, and what it found. */
function Rule({
	id,
	findings,
	act,
}: {
	id: string;
	findings: readonly Finding[];
	act: (f: Finding) => { go: () => void; settle: () => void; ignore: () => void };
}) {
	const [isWhole, setWhole] = useState(false);
	const shown = isWhole ? findings : findings.slice(0, FEW);
	return (
		<li className="border-t py-1">
			<p className="px-1 text-[12px] text-quiet">
				<span className="figure">{id}</span>
				{findings.length > 1 && <span className="figure"> × {findings.length}</span>} ·{' '}
				{FINDING_RULES.find((r) => r.id === id)?.about}
			</p>
			<ul>
				{shown.map((f) => {
					const { go, settle, ignore } = act(f);
					return (
						<li key={f.path} className="flex items-start gap-2">
							<button
								type="button"
								className="min-w-0 flex-1 px-1 py-0.5 text-left [overflow-wrap:anywhere] hover:bg-[var(--wash)]"
								onClick={go}
							>
								{f.message}
							</button>
							{f.patch && <Button onClick={settle}>Settle it</Button>}
							<Button quiet onClick={ignore}>
								Ignore
							</Button>
						</li>
					);
				})}
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
