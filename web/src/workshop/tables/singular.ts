/** "Hives" for the field that names one of them is "Hive". Only a suggestion: the person can write another name. */
export const singular = (name: string): string =>
  /ies$/iu.test(name)
    ? name.replace(/ies$/iu, 'y')
    : /(ss|us|is)$/iu.test(name)
      ? name
      : /(xes|ches|shes|sses)$/iu.test(name)
        ? name.slice(0, -2)
        : /s$/iu.test(name)
          ? name.slice(0, -1)
          : name;
