# frozen_string_literal: true

require_relative "config/boot"

use Web::Middleware::Assets
run Web::App
