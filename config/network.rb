# frozen_string_literal: true

require "socket"

# Under which addresses this machine is reached.
class Network
  # @param settings [Settings]
  def initialize(settings)
    @settings = settings
  end

  # @return [Array<String>] every address a tablet can type, the likeliest first; none if only this machine is let in
  def urls
    return [@settings.url] if @settings.url

    hosts.map { |host| "http://#{host}#{":#{@settings.port}" unless @settings.port == 80}" }
  end

  # @return [String] the address of this machine for itself
  def own_url = "http://127.0.0.1:#{@settings.port}"

  def loopback? = hosts.empty? && @settings.url.nil?

  private

  def hosts
    given = @settings.host
    unless %w[0.0.0.0 ::].include?(given)
      return (given == "localhost" || given.start_with?("127.") || given == "::1") ? [] : [bracketed(given)]
    end

    list = Socket.ip_address_list
    private, public = list.select(&:ipv4?).reject(&:ipv4_loopback?).partition(&:ipv4_private?)
    six =
      (
        if given == "::"
          list.select { |address| address.ipv6? && !address.ipv6_loopback? && !address.ipv6_linklocal? }
        else
          []
        end
      )
    (private + public + six).map { |address| bracketed(address.ip_address) }
  end

  def bracketed(host) = host.include?(":") ? "[#{host}]" : host
end
