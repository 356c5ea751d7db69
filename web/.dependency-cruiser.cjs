/** What may know what in the interface. */
module.exports = {
  forbidden: [
    { name: "no-cycles", severity: "error", from: {}, to: { circular: true } },
    {
      name: "places-apart",
      comment: "A place does not know another place.",
      severity: "error",
      from: { path: "^src/places/([^/]+)/" },
      to: { path: "^src/places/", pathNot: "^src/places/$1/" },
    },
    {
      name: "parts-below-places",
      severity: "error",
      from: { path: "^src/(parts|units|api|theme|words)/" },
      to: { path: "^src/(places|app)/" },
    },
  ],
  options: { doNotFollow: { path: "node_modules" }, tsConfig: { fileName: "tsconfig.json" } },
};
