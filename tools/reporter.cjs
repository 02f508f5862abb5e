// mocha's own spec output, and its numbers in a file: mocha takes one reporter only.
const { reporters } = require('mocha')
const fs = require('node:fs')
module.exports = class extends reporters.Spec {
  constructor(runner, options) {
    super(runner, options)
    runner.once('end', () => {
      if (process.env.RESULT) fs.writeFileSync(process.env.RESULT, JSON.stringify({ stats: this.stats }))
    })
  }
}
