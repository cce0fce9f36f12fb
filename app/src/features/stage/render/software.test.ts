import { describe, expect, it } from 'vitest';
import { isSoftware } from './software';

describe('how WebGL draws, by its name', () => {
	it.each([
		'ANGLE (Google, Vulkan 1.3.0 (SwiftShader Device (Subzero) (0x0000C0DE)), SwiftShader driver)',
		'Mesa/X.org, llvmpipe (LLVM 15.0.6, 256 bits)',
		'ANGLE (Microsoft, Microsoft Basic Render Driver Direct3D11 vs_5_0 ps_5_0)',
		'Apple Software Renderer',
	])('by the processor: %s', (name) => expect(isSoftware(name)).toBe(true));

	it.each([
		'ANGLE (Intel, Mesa Intel(R) UHD Graphics 620 (KBL GT2), OpenGL 4.6)',
		'ANGLE (NVIDIA, NVIDIA GeForce RTX 3060 Direct3D11 vs_5_0 ps_5_0, D3D11)',
		'Apple M2',
		'a card',
	])('by a card: %s', (name) => expect(isSoftware(name)).toBe(false));
});
