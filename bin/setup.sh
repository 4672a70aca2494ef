# Shared by bin/demo, bin/serve and bin/test: what a fresh machine lacks, and how a server is started. Sourced, not run.
mkdir -p tmp
export BUNDLE_FROZEN=true DEBIAN_FRONTEND=noninteractive
die() { printf '\n%s\n' "$*" >&2; exit 1; }
need() {
  [ "$(id -u)" = 0 ] && command -v apt-get >/dev/null ||
    die "Missing: $*. On Debian: sudo apt-get update && sudo apt-get install -y $*"
  { apt-get update && apt-get install -y --no-install-recommends "$@"; } >tmp/apt.log 2>&1 ||
    die "Could not install $* (see tmp/apt.log). Install by hand, run this again."
}
install_gems() { # $1: groups left out
  command -v bundle >/dev/null || need ruby ruby-dev bundler
  export BUNDLE_WITHOUT="$1"
  bundle check >/dev/null 2>&1 && return
  { command -v cc && command -v make && pkg-config --exists sqlite3 &&
    ruby -rrbconfig -e 'exit File.exist?(RbConfig::CONFIG["rubyhdrdir"]+"/ruby.h")'; } >/dev/null 2>&1 ||
    need build-essential pkg-config ruby-dev libsqlite3-dev
  echo "Installing gems (a minute or so, once)…"
  bundle install --quiet || die "bundle install failed; see above."
}
# What a server runs best with: YJIT, a heap that is big from the start, so that it is seldom searched for what can be
# thrown away (the worst act took 190 ms without, 40 with), and an allocator that wastes less, where there is one; not
# for a browser that specs start.
tune() {
  export RUBYOPT="${RUBYOPT:---yjit}" MALLOC_ARENA_MAX="${MALLOC_ARENA_MAX:-2}"
  export RUBY_GC_HEAP_INIT_SLOTS="${RUBY_GC_HEAP_INIT_SLOTS:-1600000}"
  export RUBY_GC_HEAP_FREE_SLOTS="${RUBY_GC_HEAP_FREE_SLOTS:-800000}"
  export RUBY_GC_MALLOC_LIMIT="${RUBY_GC_MALLOC_LIMIT:-64000000}"
  export RUBY_GC_MALLOC_LIMIT_MAX="${RUBY_GC_MALLOC_LIMIT_MAX:-128000000}"
  export RUBY_GC_OLDMALLOC_LIMIT="${RUBY_GC_OLDMALLOC_LIMIT:-256000000}"
  export RUBY_GC_OLDMALLOC_LIMIT_MAX="${RUBY_GC_OLDMALLOC_LIMIT_MAX:-512000000}"
}
use_allocator() {
  for allocator in /usr/lib/*/libjemalloc.so.2; do
    if [ -z "${LD_PRELOAD:-}" ] && [ -r "$allocator" ]; then export LD_PRELOAD="$allocator"; fi
  done
}
# The same for a demo and for a real centre: settings by default, and Puma in this shell's place. Two processes answer,
# one a core (docs/running.md says what was measured); long work has one of its own.
serve() { # $1: demo or serve, for what is said once it is up
  export APP_ENV=production PORT="${PORT:-9292}" NURV_ANNOUNCE="$1" WEB_CONCURRENCY="${WEB_CONCURRENCY:-2}"
  tune && use_allocator
  exec bundle exec puma -C config/puma.rb config.ru
}
