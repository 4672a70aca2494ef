# frozen_string_literal: true

module Nurv
  module Hydraulics
    # The numbers of the Rosenbrock-W method that the integrator steps by.
    #
    # Source: ROS34PW2 (Rang and Angermann, 2005): four stages, third order for any Jacobian, L-stable, stiffly
    # accurate, with an embedded second-order result for the error. Any Jacobian, because ours is a secant about rest;
    # stiffly accurate, because small volumes between wide openings (an inlet behind its supply pipe, a kit's
    # manifold) have no inertia of their own: their flows must balance at the end of each step, or water seems to come
    # from nowhere.
    #
    # As published, with a (where a stage looks), γ (how it leans on the Jacobian) and b (how stages are
    # weighed), the slopes K of a step obey M·K_i = q(P + h·Σ a_ij·K_j) + h·J·Σ γ_ij·K_j. Solving for V
    # = h·Γ·K instead, which is in psi, leaves no product with the Jacobian to form:
    # (M/hγ − J)·V_i = q(P + Σ A_ij·V_j) − M/hγ·Σ BACK_ij·V_j,
    # and all weights below are those for V. The result is where the last stage looks, and V_4.
    module Scheme
      GAMMA = 0.435866521508459
      STAGES = 4

      # How h·γ·K follows from V: γ·Γ⁻¹, lower triangular with ones on its diagonal.
      def self.back(gamma)
        rows = Array.new(STAGES) { |row| Array.new(STAGES) { |column| (row == column) ? 1.0 : 0.0 } }
        STAGES.times do |row|
          row.times do |column|
            rows[row][column] = -(column...row).sum { |middle| gamma[row][middle] / GAMMA * rows[middle][column] }
          end
        end
        rows.each(&:freeze).freeze
      end

      # Weights of h·K as weights of V.
      def self.of_solved(weights) =
        Array.new(STAGES) { |column| (0...STAGES).sum { |row| weights[row] * BACK[row][column] } / GAMMA }.freeze

      private_class_method :back, :of_solved

      a = [
        [0.0, 0.0, 0.0, 0.0],
        [0.87173304301691801, 0.0, 0.0, 0.0],
        [0.84457060015369423, -0.11299064236484185, 0.0, 0.0],
        [0.0, 0.0, 1.0, 0.0]
      ]
      gamma = [
        [GAMMA, 0.0, 0.0, 0.0],
        [-0.87173304301691801, GAMMA, 0.0, 0.0],
        [-0.90338057013044082, 0.054180672388095326, GAMMA, 0.0],
        [0.24212380706095346, -1.2232505839045147, 0.54526025533510214, GAMMA]
      ]
      result = [0.24212380706095346, -1.2232505839045147, 1.5452602553351020, GAMMA]
      embedded = [0.37810903145819369, -0.096042292212423178, 0.5, 0.21793326075422950]
      inside = [
        [1.0564298455794094, 2.296429974281067, -1.307599564525376, -1.045260255335102],
        [-1.3864882699759573, -8.262611700275677, 7.250979895056055, 2.398120075195581],
        [0.5721822314575016, 4.742931142090097, -4.398120075195578, -0.9169932983520199]
      ]

      BACK = back(gamma)
      # Row i: what of V_j stage i's right-hand side begins with.
      TAKEN = BACK.map { |row| row.map { |weight| 0.0 - weight }.freeze }.freeze
      # Row i: where stage i looks.
      A = a.map { |weights| of_solved(weights) }.freeze
      # Result less the embedded one.
      ERROR = of_solved(result.zip(embedded).map { |full, rough| full - rough })
      # Dense output: row p weighs θ^(p+1); at θ = 1 the rows add up to the result.
      DENSE = inside.map { |weights| of_solved(weights) }.freeze
      # When each stage looks, and how much of the flows' own rate of change it takes, as shares of the step.
      TIME = a.map(&:sum).freeze
      RATE = gamma.map(&:sum).freeze
    end
  end
end
