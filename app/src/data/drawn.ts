/** SVG drawn as PNG by the browser. */

/**
 * @param svg with a width and a height of its own
 * @param zoom pixels a unit of it
 * @throws where the browser cannot read it or has no room for so large a picture
 */
export async function pngOf(svg: string, zoom: number): Promise<Uint8Array<ArrayBuffer>> {
	const address = URL.createObjectURL(new Blob([svg], { type: 'image/svg+xml' }));
	try {
		const image = new Image();
		image.src = address;
		await image.decode();
		const canvas = document.createElement('canvas');
		canvas.width = zoom * image.naturalWidth;
		canvas.height = zoom * image.naturalHeight;
		const context = canvas.getContext('2d');
		if (!context) throw new Error('the browser draws no picture');
		context.fillStyle = '#fff';
		context.fillRect(0, 0, canvas.width, canvas.height);
		context.drawImage(image, 0, 0, canvas.width, canvas.height);
		const blob = await new Promise<Blob | null>((done) => canvas.toBlob(done, 'image/png'));
		if (!blob) throw new Error('the browser has no room for the picture');
		return new Uint8Array(await blob.arrayBuffer());
	} finally {
		URL.revokeObjectURL(address);
	}
}
