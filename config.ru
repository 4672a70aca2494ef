# frozen_string_literal: true

require_relative "config/boot"

use Web::Middleware::Assets
use Rack::Static, urls: ["/favicon.svg"], root: Web::Middleware::Assets::ROOT,
  header_rules: [[:all, {"cache-control" => "public, max-age=3600"}]]
run Web::App
