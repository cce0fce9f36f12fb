/** The ladder: every object under the stage at which it fell, the chosen one at the head with its prompt and action. */
import {
	type Answer,
	anyTagsOf,
	type ChoiceFigures,
	equalsIn,
	metres,
	type Project,
	rulesOf,
	slackOf,
	type Verdict,
	wordsOfFigure,
} from '@frelk/core';
import { Pin, X } from 'lucide-react';
import { memo, useCallback, useEffect, useMemo, useRef, useState } from 'react';
import { verdictOn } from '../../model/derived';
import { nameOf, namingOf } from '../../model/names';
import { queryIn, useBenchStore, useDeferredBench, useDeferredDerived } from '../../model/use-bench';
import { Button } from '../../ui/controls';
import { Mark, toneOf } from '../../ui/marks';
import { Part } from '../../ui/part';
import { useSize } from '../../ui/use-size';
import { figuresOf, useQueryGeometry } from '../stage/overlay/geometry';
import { Keep } from './keep';
import { RoomAnswer } from './room-answer';
import { Row } from './row';
import {
	FEW_THERE,
	MOST,
	RUNG_MEANS,
	type RungKey,
	rungOf,
	runs,
	sorted,
	titleOf,
	UNMEASURED,
	unfolding,
} from './rungs';
import { isWorthDrawing } from './there';
import { nearest, toldOf } from './told';

/** Loaded when the first rung of many is unfolded. */
const loadLongList = () => import('./long-list');
/** Loaded when the first is asked for. */
const loadRemedies = () => import('./remedies');
const loadChanges = () => import('./changes');

const NONE: Verdict[] = [];
/** @param keeps whether the answer can be kept as a check from here */
export function Ladder({ keeps = true }: { keeps?: boolean }) {
	const { current } = useDeferredDerived();
	if (!current) return <Frame>Choose a query to see how each object fares.</Frame>;
	return (
		<aside aria-label="Ladder" className="flex min-h-0 flex-col border-l bg-panel">
			{/* First, so that what a remedy would do to the answer below does not move it from under the pointer. */}
			{keeps && <Wanted />}
			<Told answer={current} />
			<Head answer={current} keeps={keeps} />
			<Pinned answer={current} />
			<Rungs answer={current} />
		</aside>
	);
}

/** Remedies, where they were asked for. */
function Wanted() {
	const wanted = useDeferredBench((s) => s.wanted);
	if (wanted?.wish === 'change') return <Part what="What would change it" load={loadChanges} give={{}} />;
	return wanted && <Part what="The remedies" load={loadRemedies} give={wanted} />;
}

const Rungs = memo(({ answer }: { answer: Answer }) => {
	const figures = useFigures(answer);
	const before = useRef(new Map<RungKey, Verdict[]>());
	const byStage = useMemo(() => sorted(answer.verdicts, before.current), [answer]);
	useEffect(() => {
		before.current = byStage;
	}, [byStage]);
	const host = useRef<HTMLDivElement>(null);
	const { h: height } = useSize(host, 600);
	/** What was folded or unfolded by hand stays so, for as long as the ladder stands. */
	const [byHand, setByHand] = useState<ReadonlyMap<RungKey, boolean>>(new Map());
	const fold = useCallback((rung: RungKey, open: boolean) => setByHand((m) => new Map(m).set(rung, open)), []);
	const worthDrawing = byStage.get('there')?.filter((v) => isWorthDrawing(answer, v)).length ?? 0;
	const shown = unfolding(
		byStage,
		byHand,
		height,
		answer.status === 'none' ? worthDrawing : Math.min(worthDrawing, FEW_THERE),
	);
	const away = useAway(answer);
	return (
		<div ref={host} className="min-h-0 flex-1 overflow-auto pb-4">
			{runs(byStage).map((run) =>
				Array.isArray(run) ? (
					<p key={run[0]} className="px-3 py-1 text-[12px] text-quiet">
						<span className="sr-only">None fell at: </span>
						{run.map((rung) => titleOf(rung)).join(' · ')}
					</p>
				) : (
					<Rung
						key={run}
						rung={run}
						verdicts={byStage.get(run) ?? NONE}
						isNone={answer.status === 'none'}
						figures={run === 'choice' ? figures : null}
						shown={shown.get(run) ?? 0}
						away={(shown.get(run) ?? 0) > 0 && UNMEASURED.has(run) ? away : undefined}
						fold={fold}
					/>
				),
			)}
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

/** The verdict on the pinned object, whatever else is in the ladder. */
function Pinned({ answer }: { answer: Answer }) {
	const pinned = useDeferredBench((s) => s.pinned);
	const store = useBenchStore();
	const { world } = useDeferredDerived();
	if (pinned === null || !world.objectById.has(pinned)) return null;
	const verdict = verdictOn(world, answer, pinned);
	return (
		<section aria-label="Pinned" className="flex items-start border-b py-1 pr-1">
			<div className="min-w-0 flex-1">
				<p className="flex items-center gap-2 px-3 text-[12px] text-quiet">
					<Pin size={12} /> wanted
					{verdict && (
						<span className="font-semibold" style={{ color: `var(--${toneOf(verdict.stage)})` }}>
							{titleOf(rungOf(verdict))}
						</span>
					)}
				</p>
				{verdict ? (
					<Row verdict={verdict} />
				) : (
					<p className="px-3 pl-8">The query has no verdicts: it is {answer.status}.</p>
				)}
			</div>
			<Button quiet className="px-1.5!" aria-label="Take the pin out" onClick={() => store.getState().pin(null)}>
				<X size={13} />
			</Button>
		</section>
	);
}

/** The figures of the rule that decided, from the very values it decided by. */
function useFigures(answer: Answer): ChoiceFigures | null {
	const { world, touched } = useDeferredDerived();
	const query = useDeferredBench(queryIn);
	return figuresOf(world, useQueryGeometry(world, query, answer), answer, touched);
}

/** Ways from an answer that is not the wanted one. */
function Otherwise({ answer, name }: { answer: Answer; name: (id: string) => string }) {
	const store = useBenchStore();
	if (answer.status === 'off' || answer.status === 'waiting') return null;
	const ids = answer.status === 'tie' ? answer.tied : answer.selected.map((s) => s.object);
	return (
		<p className="mt-1 flex flex-wrap gap-1 text-[12px]">
			{ids.slice(0, 3).map((id) => (
				<Button
					key={id}
					className="max-w-full"
					onClick={() => store.getState().want({ object: id, wish: answer.status === 'tie' ? 'select' : 'leave' })}
				>
					<span className="truncate">{answer.status === 'tie' ? `Settle it for ${name(id)}` : 'Not this one…'}</span>
				</Button>
			))}
			<Button onClick={() => store.getState().want({ wish: 'change' })}>What would change it…</Button>
		</p>
	);
}

/** An object's figure in words: of the rule that decided, or how far it is. */
function useFigureWords(answer: Answer): (id: string, distance: number) => string {
	const figures = useFigures(answer);
	return (id, distance) => {
		const value = figures?.of.get(id);
		return figures && value !== undefined ? wordsOfFigure(figures.rule, value) : metres(distance);
	};
}

/** The answer read aloud when it has become another; what stands below has buttons and lists, which nobody wants to hear each time. */
function Told({ answer }: { answer: Answer }) {
	const naming = useDeferredBench((s) => namingOf(s.project.scene));
	const any = useDeferredBench((s) => anyTagsOf(queryIn(s) ?? undefined));
	const figure = useFigureWords(answer);
	return (
		<p role="status" className="sr-only">
			{toldOf(answer, naming, figure, any)}
		</p>
	);
}

function Head({ answer, keeps }: { answer: Answer; keeps: boolean }) {
	const project = useDeferredBench((s) => s.project);
	const store = useBenchStore();
	const figures = useFigures(answer);
	const figure = useFigureWords(answer);
	const name = (id: string) => nameOf(project, 'object', id);
	const places = new Map(answer.selected.map((s, i) => [s.object, i + 1]));
	return (
		<section aria-label="Answer" className="max-h-[70%] overflow-auto border-b p-3">
			{answer.room && <RoomAnswer answer={answer} />}
			{(answer.room ? [] : answer.selected).map((s, i) => (
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
			{equalsIn(answer).map((group) => (
				<p
					key={group.join()}
					className="mb-1 flex items-center gap-2 truncate text-tie"
					title={`${group.map(name).join(', ')}: no rule tells them apart. Here they stand as in the file, the game may have them in another order.`}
				>
					<Mark stage="tied" size={14} />
					<span className="truncate">
						<strong>Tie in the order:</strong> places {group.map((id) => places.get(id)).join(', ')}
					</span>
				</p>
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
			{answer.status === 'none' && !answer.room && <Nothing answer={answer} />}
			{answer.status === 'off' && <p className="text-[15px] font-semibold">The query is off</p>}
			{answer.status === 'waiting' && <p className="text-[15px] font-semibold">The query is waiting</p>}
			{keeps && answer.status !== 'waiting' && <Keep answer={answer} />}
			{keeps && (answer.selected.length <= 1 || answer.status === 'tie') && <Otherwise answer={answer} name={name} />}
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

/** That nothing is selected, and what stopped the path, if anything did. */
function Nothing({ answer }: { answer: Answer }) {
	const { world } = useDeferredDerived();
	const geometry = useQueryGeometry(world, useDeferredBench(queryIn), answer);
	const by = useDeferredBench((s) => (geometry?.cutBy ? nameOf(s.project, 'object', geometry.cutBy) : null));
	return (
		<>
			<p className="text-[15px] font-semibold">Nothing is selected</p>
			{by !== null && geometry && geometry.stop !== null && (
				<p className="mt-0.5 text-quiet">
					stopped at {metres(geometry.stop)} by {by}
				</p>
			)}
		</>
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
		seen: `${Math.round(100 * slack)} %`,
	}[rule.rule];
	if (rule.rule === 'priority')
		return slack === 0 ? ', or another priority,' : `, or priorities more than ${figure} apart,`;
	return figure === '' ? '' : `, a smaller “equal within”, or more than ${figure} between them`;
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
		case 'out-of-reach':
			return `No throw of this speed comes there; the least that does is ${Number(note.speed.toFixed(2))} m/s.`;
		case 'contested':
			return `${name(note.object)} is as near as ${name(note.by)}, which blocks.`;
	}
}

/** One whose answer has not changed is left as it is. */
const Rung = memo(StageRung);

function StageRung({
	rung,
	verdicts,
	figures,
	shown,
	isNone,
	away,
	fold,
}: {
	rung: RungKey;
	verdicts: Verdict[];
	figures: ChoiceFigures | null;
	/** How many of them are shown. */
	shown: number;
	/** Whether nothing is selected. */
	isNone: boolean;
	/** How far one is, where its verdict has no figure of that. */
	away?: ((v: Verdict) => number) | undefined;
	fold: (rung: RungKey, open: boolean) => void;
}) {
	// What is out of reach of the path bears the mark of what is out of range.
	const stage = rung === 'short' ? 'range' : rung === 'there' ? 'state' : rung;
	const title = titleOf(rung);
	const whole = shown >= verdicts.length;
	/** Floors and walls, which are on no layer asked for, stand behind the rest where something is selected. */
	const inOrder = () => {
		const list = nearest(verdicts, away);
		if (rung !== 'there' || isNone) return list;
		const isLayer = (v: Verdict) => v.stage === 'layer';
		return [...list.filter((v) => !isLayer(v)), ...list.filter(isLayer)];
	};
	return (
		<section aria-label={title}>
			<h3>
				<button
					type="button"
					aria-expanded={shown > 0}
					className="flex min-h-6 w-full items-center gap-2 px-3 py-0.5 text-left font-semibold hover:bg-[var(--wash)]"
					style={{ color: `var(--${toneOf(stage)})` }}
					title={RUNG_MEANS[rung]}
					aria-description={RUNG_MEANS[rung]}
					onClick={() => fold(rung, !whole)}
				>
					<Mark stage={stage} />
					<span>{title}</span>
					<span className="figure ml-auto font-normal text-quiet">{verdicts.length}</span>
				</button>
			</h3>
			{/* A folded stage draws no rows: there may be thousands, and they change with every move of the hand. */}
			{shown > 0 && shown <= MOST && (
				<ul>
					{inOrder()
						.slice(0, shown)
						.map((v) => (
							<li key={v.object}>
								<Row verdict={v} figure={figureIn(figures, v)} />
							</li>
						))}
				</ul>
			)}
			{shown > MOST && <Part what="The list" load={loadLongList} give={{ verdicts: inOrder(), label: title }} />}
			{shown > 0 && !whole && (
				<button
					type="button"
					className="block min-h-6 px-3 pl-8 text-left text-[12px] text-quiet hover:underline"
					onClick={() => fold(rung, true)}
				>
					{verdicts.length - shown} more
				</button>
			)}
		</section>
	);
}

/** What the deciding rule measured of one that lost by it; of one that is there but for a filter, where. */
function figureIn(figures: ChoiceFigures | null, v: Verdict): string | undefined {
	if (v.met !== undefined) return metres(v.met);
	const value = figures && v.rule === figures.rule.rule ? figures.of.get(v.object) : undefined;
	return figures && value !== undefined ? wordsOfFigure(figures.rule, value) : undefined;
}

/** How far an object is from where the query measures, metres. */
function useAway(answer: Answer): (v: Verdict) => number {
	const { world } = useDeferredDerived();
	const geometry = useQueryGeometry(world, useDeferredBench(queryIn), answer);
	return useCallback(
		({ object }) => {
			const focus = world.objectById.get(object)?.focus;
			const from = geometry?.placement.measuring;
			return focus && from ? Math.hypot(focus[0] - from[0], focus[1] - from[1], focus[2] - from[2]) : Infinity;
		},
		[world, geometry],
	);
}
