import { equalsIn } from '@frelk/core';
import { Redo2, Undo2 } from 'lucide-react';
import { Link, NavLink } from 'react-router';
import { keepingNow } from '../../data/db';

import { standingWords } from '../../model/check-results';
import type { Derived } from '../../model/derived';
import { nameOf } from '../../model/names';
import { useBench, useBenchStore, useDeferredBench } from '../../model/use-bench';
import { Button, Select, TextField } from '../../ui/controls';
import { ThemeSwitch } from '../../ui/theme-switch';
import { ExportMenu } from './export-menu';
import { useViewModules } from './view-modules';

const VIEWS = [
	{ to: '', label: 'Bench' },
	{ to: 'checks', label: 'Checks' },
	{ to: 'filters', label: 'Filters' },
	{ to: 'time', label: 'Over time' },
];

/** Of a file on disk, where what is saved in the browser is not all. */
const ON_DISK = {
	written: 'Saved',
	writing: 'Writing…',
	failed: 'Not in the file',
	broken: 'File broken',
	gone: 'File gone',
	'read-only': 'Read-only',
	held: 'Not in the file',
	away: 'Not in the file',
};

const SAVING = { saved: 'Saved', waiting: 'Saving…', failed: 'Not saved', gone: 'Deleted elsewhere' };
/** In a browser that keeps nothing. */
const NOT_KEPT = 'In memory only';

function MomentSwitch() {
	const store = useBenchStore();
	const moments = useDeferredBench((s) => s.project.moments);
	const moment = useDeferredBench((s) => s.moment);
	const isDocked = useBench((s) => s.dock === 'moments');
	return (
		<span className="flex items-center gap-1">
			{moment !== null && (
				<span className="flex items-center gap-1 font-semibold" title="What you change goes into this moment">
					<span className="size-2 rounded-full bg-cut" aria-hidden="true" />
					records
				</span>
			)}
			<Select
				label="Moment"
				value={moment ?? ''}
				options={[
					{ value: '', label: 'Scene as laid out' },
					...(moments ?? []).map((m) => ({ value: m.id, label: m.name ?? m.id })),
				]}
				onChange={(id) => store.getState().lookAt(id === '' ? null : id)}
				className="max-w-44 max-[1279px]:max-w-32 max-[980px]:max-w-24"
			/>
			<Button
				quiet
				className="max-[980px]:px-1!"
				aria-pressed={isDocked}
				onClick={() => store.getState().dockAt(isDocked ? null : 'moments')}
			>
				Moments
			</Button>
		</span>
	);
}

/** How the checks stand, what is tied, and whether all is saved: what changes most often, apart from the rest of the bar. */
function Standing() {
	const saving = useDeferredBench((s) => s.saving);
	const disk = useDeferredBench((s) => s.disk);
	const counts = useBench((s) => s.checked);
	const key = useBench((s) => s.key);
	const found = useDeferredBench((s) => s.found?.list.length ?? null);
	const tied = useDeferredBench((s) => tiesIn(s.derived).join(' '));
	return (
		<>
			{counts && counts.pending > 0 && <span className="text-quiet">{standingWords(counts)}</span>}
			{counts && counts.pending === 0 && (
				<span>
					<span className="figure">{counts.hold}</span> hold
					{counts.fail > 0 && (
						<span className="ml-2 font-semibold text-cut">
							<span className="figure">{counts.fail}</span> fail
						</span>
					)}
				</span>
			)}
			{found !== null && found > 0 && (
				<Link
					to={`/p/${key}/checks?tab=findings`}
					className="underline decoration-line underline-offset-2 hover:decoration-ink"
					title="What is wrong, or worth a look, without being asked"
					aria-label={`${found} ${found === 1 ? 'finding' : 'findings'}`}
				>
					<span className="figure">{found}</span>
					<span className="max-[1279px]:hidden"> {found === 1 ? 'finding' : 'findings'}</span>
					<span className="hidden max-[1279px]:inline"> found</span>
				</Link>
			)}
			<Ties tied={tied === '' ? [] : tied.split(' ')} />
			<span
				role="status"
				className={
					saving === 'failed' || saving === 'gone' || (disk && !['written', 'writing'].includes(disk.at))
						? 'text-cut'
						: 'text-quiet'
				}
				title={disk ? `The file ${disk.name}` : undefined}
			>
				{saving === 'saved' && disk
					? ON_DISK[disk.at]
					: saving === 'saved' && !keepingNow().kept
						? NOT_KEPT
						: SAVING[saving]}
			</span>
		</>
	);
}

/** Queries whose answer leaves something to chance: which one is taken, or in which order several are. A swing hits all at once. */
const tiesIn = ({ byQuery, world }: Derived): string[] =>
	[...byQuery].flatMap(([id, answer]) =>
		answer.status === 'tie' || (equalsIn(answer).length > 0 && world.queryById.get(id)?.kind !== 'hitbox') ? [id] : [],
	);

/** How many are tied, and the way to them: the next one each time. */
function Ties({ tied }: { tied: readonly string[] }) {
	const store = useBenchStore();
	const key = useBench((s) => s.key);
	const query = useDeferredBench((s) => s.query);
	if (tied.length === 0) return null;
	const next = tied[(tied.indexOf(query ?? '') + 1) % tied.length] as string;
	const many = `${tied.length} ${tied.length === 1 ? 'tie' : 'ties'}`;
	return (
		<Link
			to={`/p/${key}?query=${encodeURIComponent(next)}`}
			className="text-tie underline decoration-line underline-offset-2 hover:decoration-current"
			title={`Go to ${nameOf(store.getState().project, 'query', next)}`}
		>
			{many}
		</Link>
	);
}

export function TopBar() {
	useViewModules();
	const store = useBenchStore();
	const name = useDeferredBench((s) => s.project.name);
	const undoing = useDeferredBench((s) => s.past.at(-1)?.label);
	const redoing = useDeferredBench((s) => s.future.at(-1)?.label);
	const key = useDeferredBench((s) => s.key);
	return (
		<header className="flex min-h-10 items-center gap-2 border-b bg-panel px-3 max-[980px]:gap-1 max-[980px]:px-1.5 max-[1279px]:flex-wrap max-[1279px]:py-1">
			<Link to="/" className="flex items-center gap-1.5 font-semibold" aria-label="Frelk, all projects">
				<svg viewBox="0 0 24 24" width="17" height="17" aria-hidden="true">
					<path d="M1 12h8" stroke="var(--quiet)" strokeWidth="2.4" />
					<path d="M15 4l7 8-7 8-7-8z" fill="var(--chosen)" />
				</svg>
				Frelk
			</Link>
			<span className="text-line max-[980px]:hidden" aria-hidden="true">
				/
			</span>
			<h1 className="max-w-60 min-w-16 max-[1140px]:max-w-32 max-[980px]:sr-only">
				<TextField
					label="Project name"
					className="border-transparent! bg-transparent! font-semibold text-ellipsis [field-sizing:content] hover:border-line!"
					value={name}
					onCommit={(next) =>
						next.trim() && store.getState().edit('Rename the project', (draft) => void (draft.name = next.trim()))
					}
				/>
			</h1>
			<nav aria-label="Views" className="flex">
				{VIEWS.map(({ to, label }) => (
					<NavLink
						key={label}
						data-label={label}
						to={to === '' ? `/p/${key}` : `/p/${key}/${to}`}
						end
						className={({ isActive }) =>
							`px-2 py-0.5 whitespace-nowrap max-[1140px]:px-1.5 ${isActive ? 'border-b-2 border-ink font-semibold' : 'border-b-2 border-transparent text-quiet hover:text-ink'}`
						}
					>
						{label}
					</NavLink>
				))}
			</nav>
			<Button
				quiet
				className="shrink-0"
				aria-label={undoing ? `Undo: ${undoing}` : 'Undo'}
				title={undoing ? `Undo: ${undoing}` : 'Nothing to undo'}
				disabled={!undoing}
				onClick={() => store.getState().undo()}
			>
				<Undo2 size={15} />
			</Button>
			<Button
				quiet
				className="shrink-0"
				aria-label={redoing ? `Redo: ${redoing}` : 'Redo'}
				title={redoing ? `Redo: ${redoing}` : 'Nothing to redo'}
				disabled={!redoing}
				onClick={() => store.getState().redo()}
			>
				<Redo2 size={15} />
			</Button>
			<span className="ml-auto flex items-center gap-3 whitespace-nowrap max-[1399px]:gap-1.5 max-[1279px]:flex-wrap">
				<MomentSwitch />
				<Standing />
				<Button
					quiet
					title="Find a command, object or query (Ctrl K)"
					onClick={() => store.getState().show('commands')}
				>
					Find <kbd className="figure text-quiet max-[1399px]:hidden">Ctrl K</kbd>
				</Button>
				<ExportMenu />
				<ThemeSwitch />
			</span>
		</header>
	);
}
