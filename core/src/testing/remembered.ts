/**
 * The same function, which works an answer out once for each question (as its JSON says it): many tests of a file stand in one
 * house. Not for a test of whether the same question is answered the same.
 */
export function remembered<A extends readonly unknown[], R>(f: (...args: A) => R): (...args: A) => R {
  const answers = new Map<string, R>();
  return (...args) => {
    const question = JSON.stringify(args);
    const known = answers.get(question);
    if (known !== undefined) return known;
    const answer = f(...args);
    answers.set(question, answer);
    return answer;
  };
}
