// What a first visit to the season loads: the page's script, the season's, and all that either imports
// before it can draw. Forms and the other pages come when they are wanted.
import { readFileSync } from "node:fs";
import { gzipSync } from "node:zlib";

const MOST = 260_000;

const manifest = JSON.parse(readFileSync("dist/manifest.json", "utf8"));
const files = new Set();
const follow = (key) => {
  const chunk = manifest[key];
  if (!chunk || files.has(chunk.file)) return;
  files.add(chunk.file);
  for (const next of chunk.imports ?? []) follow(next);
};
follow("index.html");
follow("src/season/SeasonPage.tsx");
if (files.size < 2) throw new Error("the season is not in the manifest");

const bytes = [...files].map((file) => gzipSync(readFileSync(`dist/${file}`), { level: 9 }).length);
const total = bytes.reduce((sum, size) => sum + size, 0);
console.log(
  `JavaScript of the first load, compressed: ${Math.round(total / 1000)} kB in ${files.size} files`,
);
if (total > MOST) {
  console.error(`more than ${MOST / 1000} kB`);
  process.exit(1);
}
