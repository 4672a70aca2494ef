# frozen_string_literal: true

require "fileutils"

module Work
  # Files that a piece of work brings along or makes, beside the database until they are swept away.
  module Files
    module_function

    def folder = File.join(SETTINGS.home, "work").tap { |path| FileUtils.mkdir_p(path, mode: 0o700) }

    # @param name [String] of the file within the folder
    def path(name) = File.join(folder, File.basename(name))

    # @return [String] the name it is kept under
    def keep(bytes, ending)
      name = "#{SecureRandom.hex(12)}.#{ending}"
      File.binwrite(path(name), bytes)
      name
    end

    def remove(job)
      [job.data[:file], job.result&.dig(:file)].compact.each { |name| FileUtils.rm_f(path(name)) }
    end
  end
end
