/// <reference types="vite/client" />
/// <reference types="vite-plugin-pwa/client" />

/** What the answers of the API look like: a digest of its document. */
declare const __API_SHAPE__: string;
