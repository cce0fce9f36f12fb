import { type Project, runChecks } from '@frelk/core';
import { Moon, Redo2, Sun, Undo2 } from 'lucide-react';
import { useEffect, useState } from 'react';
import { Link } from 'react-router';
import { exportProject } from '../../data/files';
import { Button, Select, TextField } from '../../ui/controls';
import { setTheme, useTheme } from '../../ui/theme';
import { useAnswers, useBench, useBenchStore } from './store';

export function ThemeSwitch() {
	const theme = useTheme();
	const next = theme === 'dark' ? 'light' : 'dark';
	return (
		<Button quiet aria-label={`Switch to the ${next} theme`} onClick={() => setTheme(next)}>
			{theme === 'dark' ? <Sun size={15} /> : <Moon size={15} />}
		</Button>
	);
}

const SAVING = { saved: 'Saved in this browser', waiting: 'Saving…', failed: 'Not saved' };

/** How many checks hold and fail; found again shortly after the last change, so that a drag is not held up. */
function useCheckCounts(project: Project): { hold: number; fail: number } | null {
	const [counts, setCounts] = useState<{ hold: number; fail: number } | null>(null);
	useEffect(() => {
		if (!project.checks?.length) {
			setCounts(null);
			return;
		}
		const timer = setTimeout(() => {
			const results = runChecks(project);
			const hold = results.filter((r) => r.pass).length;
			setCounts({ hold, fail: results.length - hold });
		}, 200);
		return () => clearTimeout(timer);
	}, [project]);
	return counts;
}

function MomentSwitch() {
	const store = useBenchStore();
	const moments = useBench((s) => s.project.moments);
	const moment = useBench((s) => s.moment);
	if (!moments?.length) return null;
	return (
		<Select
			label="Moment"
			value={moment ?? ''}
			options={[{ value: '', label: 'Scene as laid out' }, ...moments.map((m) => ({ value: m.id, label: m.name ?? m.id }))]}
			onChange={(id) => store.getState().lookAt(id === '' ? null : id)}
			className="max-w-48"
		/>
	);
}

export function TopBar() {
	const store = useBenchStore();
	const project = useBench((s) => s.project);
	const undoing = useBench((s) => s.past.at(-1)?.label);
	const redoing = useBench((s) => s.future.at(-1)?.label);
	const saving = useBench((s) => s.saving);
	const { byQuery } = useAnswers();
	const counts = useCheckCounts(project);
	const ties = [...byQuery.values()].filter((a) => a.status === 'tie').length;
	return (
		<header className="flex h-10 items-center gap-2 border-b bg-panel px-3">
			<Link to="/" className="flex items-center gap-1.5 font-semibold" aria-label="Frelk, all projects">
				<svg viewBox="0 0 24 24" width="17" height="17" aria-hidden="true">
					<path d="M1 12h8" stroke="var(--quiet)" strokeWidth="2.4" />
					<path d="M15 4l7 8-7 8-7-8z" fill="var(--chosen)" />
				</svg>
				Frelk
			</Link>
			<span className="text-line" aria-hidden="true">
				/
			</span>
			<h1 className="w-40">
				<TextField
					label="Project name"
					className="border-transparent! bg-transparent! font-semibold hover:border-line!"
					value={project.name}
					onCommit={(name) => name.trim() && store.getState().edit('Rename the project', (draft) => void (draft.name = name.trim()))}
				/>
			</h1>
			<Button
				quiet
				aria-label={undoing ? `Undo: ${undoing}` : 'Undo'}
				title={undoing ? `Undo: ${undoing}` : 'Nothing to undo'}
				disabled={!undoing}
				onClick={() => store.getState().undo()}
			>
				<Undo2 size={15} /> Undo
			</Button>
			<Button
				quiet
				aria-label={redoing ? `Redo: ${redoing}` : 'Redo'}
				title={redoing ? `Redo: ${redoing}` : 'Nothing to redo'}
				disabled={!redoing}
				onClick={() => store.getState().redo()}
			>
				<Redo2 size={15} /> Redo
			</Button>
			<span className="ml-auto flex items-center gap-3">
				<MomentSwitch />
				{counts && (
					<span>
						<span className="figure">{counts.hold}</span> hold
						{counts.fail > 0 && (
							<span className="ml-2 font-semibold text-cut">
								<span className="figure">{counts.fail}</span> fail
							</span>
						)}
					</span>
				)}
				{ties > 0 && (
					<span className="text-tie">
						{ties} {ties === 1 ? 'tie' : 'ties'}
					</span>
				)}
				<span role="status" className={saving === 'failed' ? 'text-cut' : 'text-quiet'}>
					{SAVING[saving]}
				</span>
				<Button onClick={() => exportProject(store.getState().project)}>Export</Button>
				<ThemeSwitch />
			</span>
		</header>
	);
}
