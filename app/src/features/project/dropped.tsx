/** What is dropped on an open project: a level goes to the page that shows it before it is taken, a trace to the runs. */
import { useEffect, useState } from 'react';
import { useNavigate } from 'react-router';
import { bringLevel } from '../../model/incoming';
import { useBenchStore } from '../../model/use-bench';

const LEVEL = /\.(glb|gltf|svg)$/i;
const TRACE = /\.(jsonl|ndjson)$/i;

export function Dropped() {
	const store = useBenchStore();
	const navigate = useNavigate();
	const [dropping, setDropping] = useState(false);
	useEffect(() => {
		const over = (event: DragEvent) => {
			if (!event.dataTransfer?.types.includes('Files')) return;
			event.preventDefault();
			setDropping(true);
		};
		const leave = (event: DragEvent) => event.relatedTarget === null && setDropping(false);
		const drop = (event: DragEvent) => {
			const files = [...(event.dataTransfer?.files ?? [])];
			setDropping(false);
			if (files.length === 0) return;
			event.preventDefault();
			const { key, project, refuse } = store.getState();
			const trace = files.find((f) => TRACE.test(f.name));
			if (files.some((f) => LEVEL.test(f.name))) {
				bringLevel(key, files);
				void navigate(`/p/${key}/level`);
			} else if (trace) {
				void import('../../model/trace').then(({ traceOf }) => {
					void traceOf(key).openFile(trace, project);
					void navigate(`/p/${key}/time?trace=yes`);
				});
			} else
				refuse(
					`Dropped here, a level (.glb, .gltf with its .bin, .svg) or a trace of the game (.jsonl) is read. ${files[0]?.name ?? 'This'} is neither; project files are imported on the page of all projects.`,
				);
		};
		window.addEventListener('dragover', over);
		window.addEventListener('dragleave', leave);
		window.addEventListener('drop', drop);
		return () => {
			window.removeEventListener('dragover', over);
			window.removeEventListener('dragleave', leave);
			window.removeEventListener('drop', drop);
		};
	}, [store, navigate]);
	if (!dropping) return null;
	return (
		<div className="pointer-events-none fixed inset-4 z-50 grid place-items-center border-2 border-dashed border-ink bg-ground/85 text-[16px] font-semibold">
			Drop a level or a trace of the game
		</div>
	);
}
