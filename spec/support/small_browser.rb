# frozen_string_literal: true

require "net/http"

# The least of a browser: a cookie and a token.
class SmallBrowser
  def initialize(port)
    @http = Net::HTTP.new("127.0.0.1", port)
    @cookies = {}
  end

  def get(path) = send_request(Net::HTTP::Get.new(path))

  def post(path, fields)
    request = Net::HTTP::Post.new(path)
    request.set_form_data(fields)
    request["X-CSRF-Token"] = @token
    send_request(request)
  end

  def send_request(request)
    request["Cookie"] = @cookies.map { |name, value| "#{name}=#{value}" }.join("; ") if @cookies.any?
    response = @http.request(request)
    Array(response.get_fields("set-cookie")).each do |text|
      text.split(";").first.split("=", 2).then { |name, value| @cookies[name] = value }
    end
    @token = response.body[/X-CSRF-Token":"([^"]+)"/, 1] || @token
    response
  end

  def sign_in_answer(login, password)
    get("/sign-in")
    post("/sign-in", "login" => login, "password" => password).code
  end

  def sign_in(login, password)
    get("/sign-in")
    post("/sign-in", "login" => login, "password" => password)
    get("/help")
  end
end
