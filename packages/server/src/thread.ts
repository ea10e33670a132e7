/** Where the program of a thread is, beside this one: translated with it, or translated as it is loaded (in tests). */
export function threadOf(name: string): { filename: string; execArgv: string[] } {
  const isSource = import.meta.url.endsWith('.ts');
  return {
    filename: new URL(`./${name}.${isSource ? 'ts' : 'js'}`, import.meta.url).href,
    execArgv: isSource ? ['--import', 'tsx'] : ['--enable-source-maps'],
  };
}
