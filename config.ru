# frozen_string_literal: true

require_relative "config/boot"

use Rack::Static, urls: ["/css", "/js", "/vendor", "/favicon.svg"], root: File.expand_path("public", __dir__),
  header_rules: [[:all, {"cache-control" => "public, max-age=3600"}]]
run Web::App
