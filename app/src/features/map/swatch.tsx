/** What an object looks like on a map: its tone and its hatching. */
import { paint } from '@frelk/core/maps';
import { useEffect, useRef } from 'react';

const SIZE = 14;

export function Swatch({ value }: { value: number }) {
	const canvas = useRef<HTMLCanvasElement>(null);
	useEffect(() => {
		const shown = new Int32Array(SIZE * SIZE).fill(value);
		canvas.current?.getContext('2d')?.putImageData(new ImageData(paint(shown, SIZE, SIZE), SIZE, SIZE), 0, 0);
	}, [value]);
	return (
		<canvas
			ref={canvas}
			width={SIZE}
			height={SIZE}
			aria-hidden="true"
			className="mr-1.5 inline-block border border-ink/60 align-[-2px]"
		/>
	);
}
