// mocha's own spec output, and its numbers with what failed in a file: mocha takes one reporter only.
const { reporters, utils } = require('mocha')
const fs = require('node:fs')

/** What failed, and within a property what of its counterexample did: the property itself says only that it failed. */
const told = error => {
  const at = String(error?.stack ?? error).slice(0, 1500)
  if (!error?.cause) return at
  const { actual, expected } = error.cause
  const differs = expected === undefined ? '' : reporters.Base.generateDiff(...[actual, expected].map(utils.stringify))
  return `${at}\nwhich is: ${told(error.cause)}\n${differs.slice(0, 3000)}`
}

module.exports = class extends reporters.Spec {
  constructor(runner, options) {
    super(runner, options)
    const failed = []
    runner.on('fail', (test, error) => failed.push({ title: test.fullTitle(), message: told(error) }))
    runner.once('end', () => {
      if (process.env.RESULT) fs.writeFileSync(process.env.RESULT, JSON.stringify({ stats: this.stats, failed }))
    })
  }
}
