# frozen_string_literal: true

# Who taught before there were classes gets one with everybody they gave a bench to; the first instructor may make
# accounts.
Sequel.migration do
  up do
    first = from(:users).where(role: "instructor").min(:id)
    from(:users).where(id: first).update(admin: true) if first
    from(:users)
      .where(role: "instructor")
      .select_map(:id)
      .each do |owner|
        trainees =
          from(:attempts).where(instructor_id: owner).exclude(trainee_id: owner).distinct.select_map(:trainee_id)
        next if trainees.empty? || from(:classes).where(owner_id: owner).any?

        room =
          from(:classes).insert(
            owner_id: owner,
            name: "My trainees",
            join_code: Array.new(6) { "ABCDEFGHJKMNPQRSTUVWXYZ23456789".chars.sample }.join,
            created_at: Time.now
          )
        trainees.each { |trainee| from(:members).insert(class_id: room, user_id: trainee) }
        from(:attempts).where(instructor_id: owner, trainee_id: trainees).update(class_id: room)
      end
  end

  down { nil }
end
