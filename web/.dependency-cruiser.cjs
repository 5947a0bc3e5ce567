/** Two files never import each other in a circle; a stage never imports another stage. */
module.exports = {
  forbidden: [
    { name: "no-circle", severity: "error", from: {}, to: { circular: true } },
    {
      name: "stages-apart",
      severity: "error",
      from: { path: "^src/stages/([^/]+)/" },
      to: { path: "^src/stages/", pathNot: "^src/stages/$1/" },
    },
  ],
  options: {
    tsPreCompilationDeps: true,
    tsConfig: { fileName: "tsconfig.json" },
    doNotFollow: { path: "node_modules" },
  },
};
