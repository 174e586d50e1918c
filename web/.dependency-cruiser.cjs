/** No folder of the interface uses one that uses it; parts do not know each other. */
module.exports = {
  forbidden: [
    {
      name: "no-cycle",
      comment: "Two files that need each other belong into one, or what they share belongs below both.",
      severity: "error",
      from: {},
      to: { circular: true },
    },
    {
      name: "no-folder-cycle",
      comment: "A folder may use what lies below it, and nothing that uses it.",
      severity: "error",
      scope: "folder",
      from: {},
      to: { circular: true },
    },
    {
      name: "parts-apart",
      comment: "A part of the job does not know another: what both need lies in logbook or shell.",
      severity: "error",
      from: { path: "^src/parts/([^/]+)/" },
      to: { path: "^src/parts/([^/]+)/", pathNot: "^src/parts/$1/" },
    },
  ],
  options: {
    doNotFollow: { path: "node_modules" },
    exclude: { path: "\\.test\\.tsx?$|\\.gen\\." },
    tsPreCompilationDeps: true,
    tsConfig: { fileName: "tsconfig.json" },
  },
};
