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
# The same for a demo and for a real centre: settings by default, YJIT, and Puma in this shell's place.
serve() { # $1: demo or serve, for what is said once it is up
  export APP_ENV=production PORT="${PORT:-9292}" NURV_ANNOUNCE="$1"
  export WEB_CONCURRENCY="${WEB_CONCURRENCY:-2}" RUBYOPT="${RUBYOPT:---yjit}" MALLOC_ARENA_MAX="${MALLOC_ARENA_MAX:-2}"
  exec bundle exec puma -C config/puma.rb config.ru
}
