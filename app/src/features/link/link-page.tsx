/** What a link brings, shown before anything of it is kept. */
import { useState } from 'react';
import { Link, useNavigate } from 'react-router';
import { Button } from '../../ui/controls';
import type { Linked } from './link';

const counted = (n: number, one: string, many: string): string => `${n} ${n === 1 ? one : many}`;

export function LinkPage({
	linked,
	take,
}: {
	linked: Linked | { trouble: string[] };
	take: (linked: Linked) => Promise<string>;
}) {
	const navigate = useNavigate();
	const [trouble, setTrouble] = useState<string | null>(null);
	if ('trouble' in linked)
		return (
			<main className="mx-auto mt-24 max-w-xl p-4">
				<h1 className="mb-2 text-lg font-semibold">This link cannot be opened</h1>
				<ul role="alert" className="mb-4 border-l-2 border-cut pl-3">
					{linked.trouble.map((line) => (
						<li key={line}>{line}</li>
					))}
				</ul>
				<Link className="underline" to="/">
					All projects
				</Link>
			</main>
		);
	const { project, place } = linked;
	const { scene, queries, moments = [], runs = [], checks = [] } = project;
	const parts = [
		counted(scene.objects.length, 'object', 'objects'),
		counted(queries.length, 'query', 'queries'),
		...(moments.length > 0 ? [counted(moments.length, 'moment', 'moments')] : []),
		...(runs.length > 0 ? [counted(runs.length, 'run', 'runs')] : []),
		...(checks.length > 0 ? [counted(checks.length, 'check', 'checks')] : []),
	];
	const query = queries.find((q) => q.id === place.query);
	const moment = moments.find((m) => m.id === place.moment);
	const open = () =>
		void take(linked).then(
			(address) => navigate(address, { replace: true }),
			(error) => setTrouble(error instanceof Error ? error.message : String(error)),
		);
	return (
		<main className="mx-auto mt-24 max-w-xl p-4">
			<p className="text-quiet">A project in a link</p>
			<h1 className="mb-2 text-lg font-semibold [overflow-wrap:anywhere]">{project.name}</h1>
			<p>
				{scene.kind === 'flat' ? 'A flat scene' : 'A scene in space'}: {parts.join(', ')}.
			</p>
			{query && (
				<p>
					It opens at {query.name ?? query.id}
					{moment ? `, ${moment.name ?? moment.id}` : ''}.
				</p>
			)}
			<p className="mt-2 text-quiet">
				All of it is in the link: no server has seen it. Opening puts a copy into this browser; nothing goes back to
				whoever sent it.
			</p>
			<p className="mt-4 flex items-center gap-4">
				<Button className="font-semibold" onClick={open}>
					Open as a copy
				</Button>
				<Link className="underline" to="/">
					Not now
				</Link>
			</p>
			{trouble !== null && (
				<p role="alert" className="mt-3 text-cut">
					It could not be kept: {trouble}
				</p>
			)}
		</main>
	);
}
