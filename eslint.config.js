import jsdoc from "eslint-plugin-jsdoc";
import jsxA11y from "eslint-plugin-jsx-a11y";
import reactHooks from "eslint-plugin-react-hooks";
import tseslint from "typescript-eslint";

export default tseslint.config(
  { ignores: ["**/dist/**", "**/node_modules/**", ".cache/**", ".data/**", "test-results/**", "playwright-report/**"] },
  tseslint.configs.strict,
  {
    rules: {
      eqeqeq: "error",
      "no-console": "error",
      "@typescript-eslint/consistent-type-imports": ["error", { fixStyle: "inline-type-imports" }],
      // Index access is checked by noUncheckedIndexedAccess; inside loops over known lengths "!" is the honest form.
      "@typescript-eslint/no-non-null-assertion": "off",
      "@typescript-eslint/no-unused-vars": ["error", { argsIgnorePattern: "^_" }],
    },
  },
  {
    files: ["packages/core/src/**/*.ts", "packages/drawing/src/**/*.ts"],
    ignores: ["**/*.test.ts"],
    rules: {
      "no-restricted-globals": ["error", "window", "document", "process", "fetch", "setTimeout", "setInterval", "performance"],
      "no-restricted-properties": [
        "error",
        { object: "Date", property: "now", message: "The clock comes in as a parameter." },
        { object: "Math", property: "random", message: "Randomness comes in as a parameter." },
      ],
    },
  },
  {
    // Every exported function of packages says what it does.
    files: ["packages/*/src/**/*.ts"],
    ignores: ["**/*.test.ts", "**/src/test/**"],
    plugins: { jsdoc },
    rules: {
      "jsdoc/require-jsdoc": [
        "error",
        {
          publicOnly: { ancestorsOnly: true, esm: true, cjs: false, window: false },
          require: {
            FunctionDeclaration: true,
            ClassDeclaration: true,
            ArrowFunctionExpression: true,
            FunctionExpression: false,
            MethodDefinition: false,
          },
        },
      ],
    },
  },
  {
    files: ["apps/web/src/**/*.{ts,tsx}"],
    extends: [reactHooks.configs.flat["recommended-latest"], jsxA11y.flatConfigs.strict],
    rules: {
      // Dialogs and forms put the cursor into their first field; ours are components, not DOM elements.
      "jsx-a11y/no-autofocus": ["error", { ignoreNonDOM: true }],
      // A region that scrolls must be reachable by keyboard.
      "jsx-a11y/no-noninteractive-tabindex": ["error", { tags: ["pre"], roles: ["tabpanel"] }],
      // Warns of libraries that the React compiler cannot handle; it is not in use here.
      "react-hooks/incompatible-library": "off",
    },
  },
  // Chai's assertions are expressions.
  { files: ["**/*.test.ts", "e2e/**"], rules: { "@typescript-eslint/no-unused-expressions": "off" } },
  { files: ["scripts/**", "bench/**", "e2e/**"], rules: { "no-console": "off" } },
);
