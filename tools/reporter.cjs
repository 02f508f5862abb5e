// mocha's own spec output, and its numbers with what failed in a file: mocha takes one reporter only.
const { reporters } = require('mocha')
const fs = require('node:fs')
module.exports = class extends reporters.Spec {
  constructor(runner, options) {
    super(runner, options)
    const failed = []
    runner.on('fail', (test, error) =>
      failed.push({ title: test.fullTitle(), message: String(error?.stack ?? error).slice(0, 1500) }),
    )
    runner.once('end', () => {
      if (process.env.RESULT) fs.writeFileSync(process.env.RESULT, JSON.stringify({ stats: this.stats, failed }))
    })
  }
}
