// What the scripts of the screens and of their tests are held to. Layout is Prettier's; these are about sense and size.
import js from "@eslint/js";
import prettier from "eslint-config-prettier";
import globals from "globals";

const rules = {
  "max-len": ["error", { code: 140, ignoreUrls: true }],
  "no-var": "error",
  "prefer-const": "error",
  eqeqeq: "error",
  "no-shadow": "error",
  "no-implicit-globals": "error",
  "no-unused-vars": ["error", { caughtErrors: "none" }],
};

// What a page is asked in a test.
const ASKED = "innerText|allInnerTexts|textContent|getAttribute|inputValue|count|isChecked|isDisabled|isEnabled|isVisible";

export default [
  { ignores: ["**/lib/**", "**/node_modules/**", "**/bin/**", "**/obj/**", ".lyro/**", "data/**", "bench/**"] },
  js.configs.recommended,
  prettier,
  {
    files: ["src/Lyrotrans.Web/wwwroot/js/*.js"],
    languageOptions: { sourceType: "module", globals: globals.browser },
    rules: { ...rules, "max-lines-per-function": ["error", { max: 60 }] },
  },
  {
    files: ["tests/**/*.{js,mjs}"],
    languageOptions: { sourceType: "module", globals: { ...globals.node, ...globals.browser } },
    // A test may call things as the test beside it does.
    rules: { ...rules, "no-shadow": "off" },
  },
  {
    files: ["tests/browser/*.test.mjs"],
    rules: {
      "no-restricted-syntax": [
        "error",
        {
          selector: `CallExpression[callee.object.name="assert"][callee.property.name=/^(match|equal|notEqual|deepEqual|ok)$/] > AwaitExpression.arguments:first-child > CallExpression[callee.property.name=/^(${ASKED})$/]`,
          message: "A page may show it a moment later: wait for it with comes().",
        },
      ],
    },
  },
];
