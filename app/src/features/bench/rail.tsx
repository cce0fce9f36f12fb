/** The rail: every query with its kind and its answer at this moment. */
import type { Answer, Project, Query, QueryKind } from '@frelk/core';
import { Plus } from 'lucide-react';
import { Button, Popover } from '../../ui/controls';
import { Mark } from '../../ui/marks';
import { nameOf, useAnswers, useBench, useBenchStore } from './store';

export function answerWords(project: Project, answer: Answer | undefined): string {
	if (!answer) return '';
	const name = (id: string) => nameOf(project, 'object', id);
	switch (answer.status) {
		case 'selected': {
			const [first, ...rest] = answer.selected;
			return `${name(first?.object ?? '')}${rest.length > 0 ? ` and ${rest.length} more` : ''}`;
		}
		case 'tie':
			return `tie: ${answer.tied.map(name).join(', ')}`;
		case 'none':
			return 'nothing';
		case 'off':
			return 'off';
		case 'waiting':
			return 'waiting';
	}
}

export function Rail() {
	const project = useBench((s) => s.project);
	const active = useBench((s) => s.query);
	const store = useBenchStore();
	const { byQuery } = useAnswers();
	return (
		<nav aria-label="Queries" className="flex min-h-0 flex-col border-r bg-panel">
			<div className="flex items-center justify-between px-3 py-2">
				<h2 className="font-semibold">Queries</h2>
				<NewQuery />
			</div>
			{project.queries.length === 0 && <p className="px-3 text-quiet">No query yet.</p>}
			<ul className="min-h-0 flex-1 overflow-auto">
				{project.queries.map((query) => {
					const answer = byQuery.get(query.id);
					return (
						<li key={query.id}>
							<button
								type="button"
								aria-current={query.id === active}
								className={`block w-full border-l-3 px-2.5 py-1.5 text-left hover:bg-[var(--wash)] ${query.id === active ? 'border-l-ink bg-[var(--wash)]' : 'border-l-transparent'}`}
								onClick={() => store.getState().open(query.id)}
							>
								<span className="flex items-baseline justify-between gap-2">
									<span className="truncate font-semibold">{query.name ?? query.id}</span>
									<span className="text-[11.5px] text-quiet">{query.kind}</span>
								</span>
								<span className="flex items-center gap-1.5 text-[12px]">
									<Mark stage={answer?.status === 'selected' ? 'selected' : answer?.status === 'tie' ? 'tied' : 'layer'} size={10} />
									<span className="truncate text-quiet">{answerWords(project, answer)}</span>
								</span>
							</button>
						</li>
					);
				})}
			</ul>
		</nav>
	);
}

const KINDS: { kind: QueryKind; about: string }[] = [
	{ kind: 'ray', about: 'from a place along a direction' },
	{ kind: 'pick', about: 'through a camera at a cursor' },
	{ kind: 'sweep', about: 'a shape moved along a line' },
	{ kind: 'overlap', about: 'what a volume meets' },
	{ kind: 'hitbox', about: 'boxes a swing opens' },
];

/** A new query of a kind with sensible parts from the project. */
export function freshQuery(project: Project, kind: QueryKind, picked: string | null): Query | null {
	const { scene } = project;
	const flat = scene.kind === 'flat';
	const taken = new Set(project.queries.map((q) => q.id));
	let n = 1;
	while (taken.has(`${kind}-${n}`)) n++;
	const base = { id: `${kind}-${n}`, name: `${kind[0]?.toUpperCase()}${kind.slice(1)} ${n}` };
	const object = picked ?? scene.objects[0]?.id;
	const at = object === undefined ? { point: [0, 0, 0] as [number, number, number] } : { object };
	const aim = { along: (flat ? [1, 0, 0] : [0, 0, -1]) as [number, number, number], ...(object === undefined ? {} : { of: object }) };
	const asker = object === undefined ? {} : { asker: object };
	switch (kind) {
		case 'ray':
			return { ...base, kind, from: object === undefined ? at : { focus: object }, aim, length: 5, ...asker };
		case 'pick':
			return scene.cameras[0] ? { ...base, kind, camera: scene.cameras[0].id, viewport: [960, 540] } : null;
		case 'sweep':
			return {
				...base,
				kind,
				from: object === undefined ? at : { focus: object },
				aim,
				length: 5,
				shape: flat ? { kind: 'circle', radius: 0.2 } : { kind: 'sphere', radius: 0.2 },
				...asker,
			};
		case 'overlap':
			return { ...base, kind, at, shape: flat ? { kind: 'circle', radius: 1 } : { kind: 'sphere', radius: 1.5 }, ...asker };
		case 'hitbox':
			return object === undefined
				? null
				: {
						...base,
						kind,
						asker: object,
						boxes: [
							{ shape: flat ? { kind: 'rect', size: [1, 1] } : { kind: 'box', size: [1, 1, 1] }, at: flat ? [0.8, 0, 0] : [0, 1, -0.8], from: 0, until: 0.3 },
						],
					};
	}
}

function NewQuery() {
	const store = useBenchStore();
	const project = useBench((s) => s.project);
	const picked = useBench((s) => s.picked);
	return (
		<Popover
			label="New query"
			trigger={
				<Button aria-label="New query">
					<Plus size={13} /> New
				</Button>
			}
		>
			<ul>
				{KINDS.map(({ kind, about }) => {
					const query = freshQuery(project, kind, picked);
					return (
						<li key={kind}>
							<Button
								quiet
								disabled={!query}
								className="w-full justify-between"
								onClick={() => {
									if (!query) return;
									store.getState().edit(`New ${kind}`, (draft) => void draft.queries.push(query));
									store.getState().open(query.id);
								}}
							>
								<span className="font-semibold">{kind}</span>
								<span className="text-quiet">{about}</span>
							</Button>
						</li>
					);
				})}
			</ul>
		</Popover>
	);
}
