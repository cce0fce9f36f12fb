/** What a sentence does not say yet, and can. */
import type { Query } from '@frelk/core';
import { Plus } from 'lucide-react';
import { memo } from 'react';
import { useBench, useBenchStore, useQuery } from '../../model/use-bench';
import { Button, Popover } from '../../ui/controls';
import { isFloor, likelyAsker } from '../edit/fresh-query';
import type { Change } from './parts';

/** What can still be said. */
export const Add = memo(({ change }: { change: Change }) => (
	<Popover
		label="Say more"
		trigger={
			<button
				type="button"
				aria-label="Say more"
				className="ml-1 inline-flex size-5 items-center justify-center rounded-[2px] align-middle text-quiet hover:bg-[var(--wash)]"
			>
				<Plus size={14} />
			</button>
		}
	>
		<Parts change={change} />
	</Popover>
));

function Parts({ change }: { change: Change }) {
	const store = useBenchStore();
	const query = useQuery();
	const flatPick = useBench((s) => s.project.scene.kind === 'flat') && query?.kind === 'pick';
	const project = useBench((s) => s.project);
	const firstObject = project.scene.objects.find((o) => !isFloor(o))?.id;
	if (!query) return null;
	const parts: { label: string; part: string | null; when: boolean; add: (q: Query) => void }[] = [
		{
			label: 'take all that are left',
			part: null,
			when: query.choose?.take !== 'all' && query.kind !== 'hitbox',
			add: (q) => void (q.choose = { ...q.choose, take: 'all' }),
		},
		{
			label: 'tags',
			part: 'Tags',
			when: query.selects?.tags === undefined,
			add: (q) => void (q.selects = { ...q.selects, tags: { any: [] } }),
		},
		{
			label: 'conditions on states',
			part: 'Conditions',
			when: query.selects?.when === undefined,
			add: (q) => void (q.selects = { ...q.selects, when: [] }),
		},
		{ label: 'a range', part: 'Range', when: query.range === undefined, add: (q) => void (q.range = { max: 4 }) },
		{
			label: 'a view cone',
			part: 'View',
			when: query.view === undefined && !flatPick,
			add: (q) =>
				void (q.view = {
					within: 60,
					...(q.asker === undefined && (q.kind === 'overlap' || q.kind === 'hitbox')
						? { about: { along: [0, 0, -1] } }
						: {}),
				}),
		},
		{
			label: 'what stops it',
			part: 'Layers that stop it',
			when: query.sight?.blockers === undefined,
			add: (q) => void (q.sight = { ...q.sight, blockers: [] }),
		},
		{
			label: 'aim assist',
			part: 'Aim assist',
			when: ((query.kind === 'ray' && !query.arc) || query.kind === 'pick') && query.assist === undefined,
			add: (q) =>
				(q.kind === 'ray' || q.kind === 'pick') &&
				void (q.assist = q.kind === 'pick' ? { by: 'pixels', within: 20 } : { by: 'angle', within: 3 }),
		},
		{
			label: 'room to stand',
			part: 'Room',
			when: query.kind === 'overlap' && query.room === undefined,
			add: (q) => q.kind === 'overlap' && void (q.room = { on: { layers: 'all' } }),
		},
		{
			label: 'stances',
			part: 'Stances',
			when: query.selects?.stances === undefined,
			add: (q) => void (q.selects = { ...q.selects, stances: ['hostile'] }),
		},
		{
			label: 'roles',
			part: 'Roles',
			when: query.selects?.roles === undefined,
			add: (q) => void (q.selects = { ...q.selects, roles: ['solid'] }),
		},
		{
			label: 'prompts and actions by tag',
			part: 'Prompts by tag',
			when: query.outcomes === undefined,
			add: (q) => void (q.outcomes = []),
		},
		{
			label: 'an asker',
			part: 'Asker',
			when: query.asker === undefined && firstObject !== undefined,
			add: (q) => void (q.asker = likelyAsker(project, null) ?? firstObject ?? ''),
		},
		{ label: 'ignored objects', part: 'Ignored', when: query.ignore === undefined, add: (q) => void (q.ignore = []) },
		{
			label: 'approach from any side',
			part: 'Approach',
			when: query.approach !== 'ignore',
			add: (q) => void (q.approach = 'ignore'),
		},
		{
			label: 'count an object it starts inside',
			part: 'Start inside',
			when: query.startInside !== 'count',
			add: (q) => void (q.startInside = 'count'),
		},
	];
	return (
		<ul>
			{parts
				.filter((p) => p.when)
				.map((p) => (
					<li key={p.label}>
						<Button
							quiet
							data-chosen
							className="w-full justify-start"
							onClick={() => {
								change(p.part === null ? 'Take all' : `Add ${p.label}`, p.add);
								if (p.part !== null) store.getState().markPart(p.part, true);
							}}
						>
							{p.label}
						</Button>
					</li>
				))}
		</ul>
	);
}
