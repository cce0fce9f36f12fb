/** The ladder: every object under the stage at which it fell, the chosen one at the head with its prompt and action. */
import {
	type Answer,
	type ChoiceFigures,
	metres,
	type Project,
	rulesOf,
	STAGE_WORDS,
	STAGES,
	type Stage,
	slackOf,
	type Verdict,
	wordsOfFigure,
} from '@frelk/core';
import { memo, useEffect, useMemo, useRef, useState } from 'react';
import { nameOf } from '../../model/names';
import { queryIn, useBenchStore, useDeferredBench, useDeferredDerived } from '../../model/use-bench';
import { Mark, toneOf } from '../../ui/marks';
import { Part } from '../../ui/part';
import { figuresOf, useQueryGeometry } from '../stage/overlay/geometry';
import { Keep } from './keep';
import { Row } from './row';

/** Loaded when the first rung of many is unfolded. */
const loadLongList = () => import('./long-list');

/** A rung is a stage; of those that were not touched, the ones a longer path would reach have a rung of their own. */
type RungKey = Stage | 'short';

/** Nearest to being chosen first. */
const DOWNWARD: RungKey[] = STAGES.filter((stage) => stage !== 'selected' && stage !== 'tied')
	.reverse()
	.flatMap((stage) => (stage === 'touch' ? ['short', stage] : [stage]));
const NONE: Verdict[] = [];
/** More rows than these scroll in a list of their own. */
const MOST = 24;
/** Stages whose losers are of little interest at first sight. */
const FOLDED = new Set<RungKey>(['layer', 'excluded', 'inactive', 'tags', 'touch', 'role', 'side']);

export function Ladder() {
	const { current } = useDeferredDerived();
	if (!current) return <Frame>Choose a query to see how each object fares.</Frame>;
	return (
		<aside aria-label="Ladder" className="flex min-h-0 flex-col border-l bg-panel">
			<Head answer={current} />
			<Rungs answer={current} />
		</aside>
	);
}

/** Verdicts by their stage; a stage on which all is as before keeps its list, so that it is not drawn again. */
function sorted(verdicts: readonly Verdict[], before: ReadonlyMap<RungKey, Verdict[]>): Map<RungKey, Verdict[]> {
	const map = new Map<RungKey, Verdict[]>();
	for (let i = 0; i < verdicts.length; i++) {
		const v = verdicts[i] as Verdict;
		const rung = v.stage === 'touch' && v.beyond !== undefined ? 'short' : v.stage;
		const list = map.get(rung);
		if (list) list.push(v);
		else map.set(rung, [v]);
	}
	for (const [stage, list] of map) {
		const old = before.get(stage);
		if (old && old.length === list.length && old.every((v, i) => v === list[i])) map.set(stage, old);
	}
	return map;
}

const Rungs = memo(({ answer }: { answer: Answer }) => {
	const figures = useFigures(answer);
	const before = useRef(new Map<RungKey, Verdict[]>());
	const byStage = useMemo(() => sorted(answer.verdicts, before.current), [answer]);
	useEffect(() => {
		before.current = byStage;
	}, [byStage]);
	return (
		<div className="min-h-0 flex-1 overflow-auto pb-4">
			{DOWNWARD.map((stage) => (
				<Rung
					key={stage}
					rung={stage}
					verdicts={byStage.get(stage) ?? NONE}
					figures={stage === 'choice' ? figures : null}
				/>
			))}
		</div>
	);
});

function Frame({ children }: { children: React.ReactNode }) {
	return (
		<aside aria-label="Ladder" className="border-l bg-panel p-3 text-quiet">
			{children}
		</aside>
	);
}

/** The figures of the rule that decided, from the very values it decided by. */
function useFigures(answer: Answer): ChoiceFigures | null {
	const { world, touched } = useDeferredDerived();
	const query = useDeferredBench(queryIn);
	return figuresOf(world, useQueryGeometry(world, query, answer), answer, touched);
}

function Head({ answer }: { answer: Answer }) {
	const project = useDeferredBench((s) => s.project);
	const store = useBenchStore();
	const figures = useFigures(answer);
	const figure = (id: string, distance: number): string => {
		const value = figures?.of.get(id);
		return figures && value !== undefined ? wordsOfFigure(figures.rule, value) : metres(distance);
	};
	const name = (id: string) => nameOf(project, 'object', id);
	return (
		<section aria-label="Answer" aria-live="polite" className="border-b p-3">
			{answer.selected.map((s, i) => (
				<button
					type="button"
					key={s.through ?? s.object}
					className="mb-1 block w-full text-left"
					onPointerEnter={() => store.getState().point(s.through ?? s.object)}
					onPointerLeave={() => store.getState().point(null)}
					onClick={() => store.getState().pick(s.object)}
				>
					<span className="flex items-center gap-2 text-[15px] font-semibold">
						<Mark stage="selected" size={14} />
						{answer.selected.length > 1 && <span className="figure font-normal text-quiet">{i + 1}</span>}
						<span className="line-clamp-2 min-w-0 [overflow-wrap:anywhere]" title={name(s.object)}>
							{name(s.object)}
						</span>
						<span className="figure ml-auto whitespace-nowrap text-[12.5px] font-normal text-quiet">
							{figure(s.through ?? s.object, s.distance)}
						</span>
					</span>
					{(s.prompt !== null || s.action !== null) && (
						<span
							className="ml-5.5 line-clamp-3 text-quiet [overflow-wrap:anywhere]"
							title={[s.prompt, s.action].filter((v) => v !== null).join(' · ')}
						>
							{s.prompt}
							{s.action !== null && <span className="figure"> · {s.action}</span>}
						</span>
					)}
					{s.through !== null && <span className="block pl-5.5 text-quiet">through {name(s.through)}</span>}
					{s.assisted && <span className="block pl-5.5 text-quiet">by aim assist, at its focus</span>}
				</button>
			))}
			{answer.tied.length > 0 && (
				<div>
					<p className="flex items-center gap-2 text-[15px] font-semibold text-tie">
						<Mark stage="tied" size={14} />
						Tie
					</p>
					<ul className="pl-5.5">
						{answer.tied.map((id) => (
							<li key={id} className="line-clamp-2 [overflow-wrap:anywhere]" title={name(id)}>
								{name(id)}
								{figures?.of.has(id) && <span className="figure text-[12px] text-quiet"> {figure(id, 0)}</span>}
							</li>
						))}
					</ul>
					<p className="pl-5.5 text-quiet">
						Nothing in the query tells them apart: the game may take either. A further rule{slackWords(project, answer)}{' '}
						would.
					</p>
				</div>
			)}
			{answer.status === 'none' && <p className="text-[15px] font-semibold">Nothing is selected</p>}
			{answer.status === 'off' && <p className="text-[15px] font-semibold">The query is off</p>}
			{answer.status === 'waiting' && <p className="text-[15px] font-semibold">The query is waiting</p>}
			{answer.status !== 'waiting' && <Keep answer={answer} />}
			{answer.notes.length > 0 && (
				<ul className="mt-1 text-quiet">
					{answer.notes.map((note) => (
						<li key={JSON.stringify(note)}>{noteWords(note, name, (id) => nameOf(project, 'query', id))}</li>
					))}
				</ul>
			)}
		</section>
	);
}

/** What, beside a further rule, would tell them apart: it hangs on the rule that came last. */
function slackWords(project: Project, answer: Answer): string {
	const query = project.queries.find((q) => q.id === answer.query);
	const rule = query ? rulesOf(query).at(-1) : undefined;
	if (!rule) return '';
	const slack = slackOf(rule, project.scene.tieSlack ?? 0.001);
	const figure = {
		distance: metres(slack),
		aim: `${slack}°`,
		cursor: `${slack} px`,
		priority: String(slack),
		direct: '',
		listed: '',
	}[rule.rule];
	if (rule.rule === 'priority')
		return slack === 0 ? ', or another priority,' : `, or priorities more than ${figure} apart,`;
	return figure === '' ? '' : `, a smaller slack, or more than ${figure} between them`;
}

function noteWords(note: Answer['notes'][number], name: (id: string) => string, query: (id: string) => string): string {
	switch (note.code) {
		case 'starts-inside':
			return `Starts inside ${name(note.object)}, which is skipped.`;
		case 'disabled':
			return 'It is switched off.';
		case 'condition':
			return `Its condition on the ${note.of} fails: ${note.state}.`;
		case 'waiting':
			return `It hangs on the hit of ${query(note.on)}, which selects nothing.`;
		case 'zero-direction':
			return 'It has no direction: two of its points lie on each other.';
		case 'contested':
			return `${name(note.object)} is as near as ${name(note.by)}, which blocks.`;
	}
}

/** An empty stage, or one whose answer has not changed, is left as it is. */
const Rung = memo(StageRung);

function StageRung({ rung, verdicts, figures }: { rung: RungKey; verdicts: Verdict[]; figures: ChoiceFigures | null }) {
	const [open, setOpen] = useState(!FOLDED.has(rung));
	// What is out of reach of the path bears the mark of what is out of range.
	const stage = rung === 'short' ? 'range' : rung;
	const title = rung === 'short' ? 'Too short' : STAGE_WORDS[rung];
	if (verdicts.length === 0)
		return (
			<p className="flex items-center gap-2 px-3 py-0.5 text-[12px] text-quiet">
				<span className="w-3 text-center">·</span>
				{title}
				<span className="sr-only">: none</span>
			</p>
		);
	return (
		<details open={open} className="group" onToggle={(event) => setOpen(event.currentTarget.open)}>
			<summary
				className="flex items-center gap-2 px-3 py-0.5 font-semibold hover:bg-[var(--wash)]"
				style={{ color: `var(--${toneOf(stage)})` }}
			>
				<Mark stage={stage} />
				<span>{title}</span>
				<span className="figure ml-auto font-normal text-quiet">{verdicts.length}</span>
			</summary>
			{/* A folded stage draws no rows: there may be thousands, and they change with every move of the hand. */}
			{open && verdicts.length <= MOST && (
				<ul>
					{nearest(verdicts).map((v) => (
						<li key={v.object}>
							<Row verdict={v} figure={figureIn(figures, v)} />
						</li>
					))}
				</ul>
			)}
			{open && verdicts.length > MOST && (
				<Part what="The list" load={loadLongList} give={{ verdicts: nearest(verdicts), label: title }} />
			)}
		</details>
	);
}

/** What the deciding rule measured of one that lost by it. */
function figureIn(figures: ChoiceFigures | null, v: Verdict): string | undefined {
	const value = figures && v.rule === figures.rule.rule ? figures.of.get(v.object) : undefined;
	return figures && value !== undefined ? wordsOfFigure(figures.rule, value) : undefined;
}

/** Those that failed by least first. */
const nearest = (verdicts: readonly Verdict[]): Verdict[] => [...verdicts].sort((a, b) => byHowMuch(a) - byHowMuch(b));
const byHowMuch = (v: Verdict): number => v.beyond ?? v.margin ?? Infinity;
