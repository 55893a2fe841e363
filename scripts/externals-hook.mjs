// Leads the names that the build gave to packages outside of it to the packages themselves: in a clone links do that, which no package can hold.
let packages = {};

export function initialize(given) {
  packages = given;
}

/** `sequelize-aff8c739/lib` -> `sequelize/lib` */
export function realName(specifier, names = packages) {
  const known = Object.keys(names).find((name) => specifier === name || specifier.startsWith(`${name}/`));
  return known === undefined ? specifier : names[known] + specifier.slice(known.length);
}

export function resolve(specifier, context, next) {
  return next(realName(specifier), context);
}
