/** Muted hues, one a layer, far enough apart to tell neighbours. */
const HUES = [205, 34, 168, 268, 96, 345, 54, 232, 14, 135];

/** @param bit a layer's bit; its place in the list picks the hue */
export function layerHue(bit: number): number {
	return HUES[(31 - Math.clz32(bit)) % HUES.length] as number;
}

export function layerColour(bit: number, dark: boolean): string {
	return dark ? `hsl(${layerHue(bit)}, 24%, 38%)` : `hsl(${layerHue(bit)}, 34%, 70%)`;
}
