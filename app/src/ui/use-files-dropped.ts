/** Files dropped anywhere on the window. */
import { useEffect, useEffectEvent, useState } from 'react';

/** @param take given the files, at least one. @returns whether files are held over the window */
export function useFilesDropped(take: (files: File[]) => void): boolean {
	const [dropping, setDropping] = useState(false);
	const taken = useEffectEvent(take);
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
			taken(files);
		};
		window.addEventListener('dragover', over);
		window.addEventListener('dragleave', leave);
		window.addEventListener('drop', drop);
		return () => {
			window.removeEventListener('dragover', over);
			window.removeEventListener('dragleave', leave);
			window.removeEventListener('drop', drop);
		};
	}, []);
	return dropping;
}
