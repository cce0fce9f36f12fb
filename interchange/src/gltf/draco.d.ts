declare module 'draco3d/draco_decoder_nodejs.js';
