# frozen_string_literal: true

desc "Lint and run every spec"
task(:default) { exec "bin/test" }
