# frozen_string_literal: true

module Nurv
  module Hydraulics
    # The numbers of the Rosenbrock method that the integrator steps by.
    #
    # Source: RODAS (Hairer and Wanner, Solving Ordinary Differential Equations II, 1996, section VI.4): six stages,
    # fourth order, L-stable, stiffly accurate, with an embedded third-order result for the error and a third-order
    # dense output. Stiffly accurate, because small volumes between wide openings (an inlet behind its supply pipe, a
    # kit's manifold) have no inertia of their own: their flows must balance at the end of each step, or water seems to
    # come from nowhere. It is as good as the Jacobian is: every slope that a law leaves out of the matrix is paid for
    # in steps, air's among them.
    #
    # In the form that leaves no product with the Jacobian J to form, the stages V of a step h, in psi, obey
    # (M/hγ − J)·V_i = q(P + Σ A_ij·V_j, t + TIME_i·h) + M/hγ·Σ TAKEN_ij·V_j + RATE_i·h·∂q/∂t.
    # The fifth looks where the fourth-order result would be but for its last two stages, the sixth a V_5 further on,
    # and the result is another V_6 beyond that, which is also how far it lies from the embedded one.
    module Scheme
      GAMMA = 0.25
      STAGES = 6
      # One over the order of the error: a step so much longer has an error so many times as large.
      ERROR_POWER = 0.25

      # Row i: where stage i looks.
      A = [
        [].freeze,
        [1.544].freeze,
        [0.9466785280815826, 0.2557011698983284].freeze,
        [3.314825187068521, 2.896124015972201, 0.9986419139977817].freeze,
        [1.221224509226641, 6.019134481288629, 12.53708332932087, -0.6878860361058950].freeze
      ].freeze

      # As published, of M/h; ours are of M/hγ.
      published = [
        [],
        [-5.6688],
        [-2.430093356833875, -0.2063599157091915],
        [-0.1073529058151375, -9.594562251023355, -20.47028614809616],
        [7.496443313967647, -10.24680431464352, -33.99990352819905, 11.70890893206160],
        [8.083246795921522, -7.981132988064893, -31.52159432874371, 16.31930543123136, -6.058818238834054]
      ]
      # Row i: what of V_j stage i's right-hand side begins with.
      TAKEN = published.map { |row| row.map { |weight| weight * GAMMA }.freeze }.freeze

      # When each stage looks, and how much of the flows' own rate of change it takes, as shares of the step.
      TIME = [0.0, 0.386, 0.21, 0.63, 1.0, 1.0].freeze
      RATE = [0.25, -0.1043, 0.1035, -0.0362, 0.0, 0.0].freeze

      # Dense output: between start and result it bends by θ·(1 − θ) of the first row's sum,
      # and by θ²·(1 − θ) of the second's.
      DENSE = [
        [10.12623508344586, -7.487995877610167, -34.80091861555747, -7.992771707568823, 1.025137723295662].freeze,
        [-0.6762803392801253, 6.087714651680015, 16.43084320892478, 24.76722511418386, -6.594389125716872].freeze
      ].freeze
    end
  end
end
