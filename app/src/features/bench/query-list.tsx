/** The query list: every query with its kind and its answer at this moment. */
import type { QueryKind, Stage } from '@frelk/core';
import { ArrowDown, ArrowUp, Clock, Copy, Plus, Power, Trash2 } from 'lucide-react';
import { memo } from 'react';
import { useNavigate } from 'react-router';
import { nameOf } from '../../model/names';
import { useBench, useBenchStore, useDeferredBench, useDeferredDerived } from '../../model/use-bench';
import { Button, Popover, TextField } from '../../ui/controls';
import { Mark } from '../../ui/marks';
import { rove } from '../../ui/roving';
import { duplicateQuery, moveQuery, newQuery, newRoom, switchQuery } from '../edit/acts';
import { answerWords, freshQuery, isFloor } from '../edit/fresh-query';
import { nameThing } from '../edit/naming';

export function QueryList() {
	const queries = useDeferredBench((s) => s.project.queries);
	const active = useDeferredBench((s) => s.query);
	const { byQuery } = useDeferredDerived();
	const project = useDeferredBench((s) => s.project);
	const counts = useBench((s) => s.checked)?.byQuery;
	return (
		<nav aria-label="Queries" className="flex min-h-0 flex-col border-r bg-panel">
			<div className="flex items-center justify-between px-3 py-2">
				<h2 className="font-semibold">Queries</h2>
				<NewQuery />
			</div>
			{queries.length === 0 && <p className="px-3 text-quiet">No query yet.</p>}
			<ul className="min-h-0 flex-1 overflow-auto" onKeyDown={(event) => rove(event, 'down', '[aria-current]')}>
				{queries.map((query, i) => {
					const answer = byQuery.get(query.id);
					const count = counts?.get(query.id);
					return (
						<Item
							key={query.id}
							id={query.id}
							name={query.name ?? query.id}
							kind={query.kind}
							off={query.enabled === false}
							here={query.id === active}
							stage={answer?.status === 'selected' ? 'selected' : answer?.status === 'tie' ? 'tied' : 'layer'}
							words={answerWords(project, answer)}
							fail={count?.fail ?? null}
							hold={count?.hold ?? null}
							first={i === 0}
							last={i === queries.length - 1}
						/>
					);
				})}
			</ul>
		</nav>
	);
}

interface ItemProps {
	id: string;
	name: string;
	kind: QueryKind;
	off: boolean;
	here: boolean;
	/** The stage whose mark goes with the answer. */
	stage: Stage;
	/** The answer in words. */
	words: string;
	/** Its checks; null where it has none. */
	fail: number | null;
	hold: number | null;
	first: boolean;
	last: boolean;
}

/** Takes plain values only: while one query is dragged, the others are not drawn again. */
const Item = memo(({ id, name, kind, off, here, stage, words, fail, hold, first, last }: ItemProps) => {
	const store = useBenchStore();
	return (
		<li className={`border-l-3 ${here ? 'border-l-ink bg-[var(--wash)]' : 'border-l-transparent'}`}>
			{here && (
				<span className="flex items-baseline justify-between gap-2 pt-1.5 pr-2.5 pl-1">
					<TextField
						label="Name of the query"
						className={`min-w-0 flex-1 border-transparent! bg-transparent! px-1.5! font-semibold hover:border-line! ${off ? 'line-through' : ''}`}
						value={name}
						onCommit={(next) => nameThing(store, 'query', id, next)}
					/>
					<span className="text-[11.5px] text-quiet">{kind}</span>
				</span>
			)}
			<button
				type="button"
				aria-current={here}
				className={`block min-h-6 w-full px-2.5 text-left hover:bg-[var(--wash)] ${here ? 'pb-1' : 'py-1.5'}`}
				onClick={() => store.getState().open(id)}
				onKeyDown={(event) => {
					if (!event.altKey || (event.key !== 'ArrowUp' && event.key !== 'ArrowDown')) return;
					event.preventDefault();
					moveQuery(store, id, event.key === 'ArrowUp' ? -1 : 1);
				}}
			>
				<span className="sr-only">
					{`${name}, ${kind}: ${words}${fail === null ? '' : fail > 0 ? `, ${fail} fail` : `, ${hold} hold`}`}
				</span>
				{/* The same as it is seen. */}
				<span aria-hidden="true">
					{!here && (
						<span className="flex items-baseline justify-between gap-2">
							<span className={`truncate font-semibold ${off ? 'line-through' : ''}`}>{name}</span>
							<span className="text-[11.5px] text-quiet">{kind}</span>
						</span>
					)}
					<span className="flex items-center gap-1.5 text-[12px]">
						<Mark stage={stage} size={10} />
						<span className="truncate text-quiet">{words}</span>
						{fail !== null && (
							<span className={`ml-auto whitespace-nowrap ${fail > 0 ? 'font-semibold text-cut' : 'text-quiet'}`}>
								{fail > 0 ? `${fail} fail` : `${hold} hold`}
							</span>
						)}
					</span>
				</span>
			</button>
			{here && <Handling id={id} name={name} off={off} first={first} last={last} />}
		</li>
	);
});

/** What can be done with the query in hand; apart from its answer, which changes with every move. */
const Handling = memo(({ id, name, off, first, last }: Pick<ItemProps, 'id' | 'name' | 'off' | 'first' | 'last'>) => {
	const store = useBenchStore();
	const navigate = useNavigate();
	return (
		<div role="toolbar" aria-label={`Query ${name}`} className="flex items-center justify-end px-1 pb-1">
			<Small label="Move up" disabled={first} onClick={() => moveQuery(store, id, -1)}>
				<ArrowUp size={12} />
			</Small>
			<Small label="Move down" disabled={last} onClick={() => moveQuery(store, id, 1)}>
				<ArrowDown size={12} />
			</Small>
			<Small
				label="Over time"
				onClick={() => void navigate(`/p/${store.getState().key}/time?query=${encodeURIComponent(id)}`)}
			>
				<Clock size={12} />
			</Small>
			<Small label="Duplicate the query" onClick={() => duplicateQuery(store, id)}>
				<Copy size={12} />
			</Small>
			<Small label={off ? 'Switch on' : 'Switch off'} onClick={() => switchQuery(store, id)}>
				<Power size={12} />
			</Small>
			<Small label="Delete the query" onClick={() => store.getState().show({ delete: { kind: 'query', ids: [id] } })}>
				<Trash2 size={12} />
			</Small>
		</div>
	);
});

function Small({
	label,
	disabled,
	onClick,
	children,
}: {
	label: string;
	disabled?: boolean;
	onClick: () => void;
	children: React.ReactNode;
}) {
	return (
		<Button quiet className="px-1.5!" aria-label={label} title={label} disabled={disabled} onClick={onClick}>
			{children}
		</Button>
	);
}

const KINDS: { kind: QueryKind; about: string }[] = [
	{ kind: 'ray', about: 'from a place along a direction' },
	{ kind: 'pick', about: 'through a camera at a cursor' },
	{ kind: 'sweep', about: 'a shape moved along a line' },
	{ kind: 'overlap', about: 'what a volume meets' },
	{ kind: 'hitbox', about: 'boxes a swing opens' },
];

const NewQuery = memo(() => (
	<Popover
		label="New query"
		wide
		trigger={
			<Button aria-label="New query">
				<Plus size={13} /> New
			</Button>
		}
	>
		<Kinds />
	</Popover>
));

function Kinds() {
	const store = useBenchStore();
	const project = useBench((s) => s.project);
	const picked = useBench((s) => s.picked);
	const inHand = project.scene.objects.find((o) => o.id === picked);
	const standing = inHand && !isFloor(inHand) ? nameOf(project, 'object', inHand.id) : null;
	return (
		<ul>
			{KINDS.map(({ kind, about }) => {
				const query = freshQuery(project, kind, picked);
				// A pick brings its camera where there is none, but it cannot be drawn through none.
				const can = query !== null || kind === 'pick';
				return (
					<li key={kind} className="flex items-center gap-1">
						<Button
							quiet
							data-chosen
							disabled={!can}
							className="flex-1 justify-between"
							onClick={() => newQuery(store, kind)}
						>
							<span className="font-semibold">{kind}</span>
							<span className="text-right text-quiet">
								{query ? about : `${about}; ${kind === 'pick' ? 'a camera comes with it' : 'needs an object'}`}
							</span>
						</Button>
						<Button
							data-chosen
							aria-label={`Draw a ${kind} on the stage`}
							disabled={!query}
							onClick={() => store.getState().use({ kind: 'query', query: kind })}
						>
							Draw
						</Button>
					</li>
				);
			})}
			<li className="mt-1 border-t pt-1">
				<Button quiet data-chosen className="w-full justify-between" onClick={() => newRoom(store)}>
					<span className="font-semibold">room</span>
					<span className="text-right text-quiet">may {standing ?? 'it'} stand here, and on what</span>
				</Button>
			</li>
		</ul>
	);
}
