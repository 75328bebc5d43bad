import js from "@eslint/js";
import hooks from "eslint-plugin-react-hooks";
import ts from "typescript-eslint";

/** What the kit has, in one place and with a keyboard, is not taken from the browser elsewhere. */
const native = [
  ["JSXOpeningElement[name.name='select']", "a choice of many is kit/Pick"],
  ["JSXOpeningElement[name.name='details']", "what opens is kit/Collapse"],
  ["JSXAttribute[name.name='type'][value.value='checkbox']", "a tick is kit/Tick"],
  ["JSXAttribute[name.name='type'][value.value='radio']", "one of a few is kit/Choice, or a RadioGroup"],
  ["JSXAttribute[name.name='type'][value.value='range']", "an amount that is dragged is a Slider"],
  [
    "JSXOpeningElement[name.name=/^[a-z]/] > JSXAttribute[name.name='title']",
    "words on pointing are kit/Tip",
  ],
].map(([selector, message]) => ({ selector, message }));

export default ts.config(
  { ignores: ["dist", "src/api/schema.d.ts"] },
  { files: ["*.js"], languageOptions: { globals: { console: "readonly", process: "readonly" } } },
  js.configs.recommended,
  ...ts.configs.strict,
  hooks.configs.flat["recommended-latest"],
  {
    rules: {
      "@typescript-eslint/no-non-null-assertion": "error",
      "no-restricted-syntax": ["error", ...native],
    },
  },
);
