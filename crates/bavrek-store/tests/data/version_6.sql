-- Rows as the version before workouts wrote them. All invented.
insert into trainers (id, email, name, password_hash)
    values ('00000000-0000-0000-0000-000000000001', 'old@bavrek.example', 'T', 'hash');
insert into clients (trainer_id, id, name, body_mass_kg, height_m, experience)
    values ('00000000-0000-0000-0000-000000000001', '00000000-0000-0000-0000-000000000002', 'C', 70, 1.7, 'novice');
insert into places (trainer_id, id, client_id, name)
    values ('00000000-0000-0000-0000-000000000001', '00000000-0000-0000-0000-000000000003',
            '00000000-0000-0000-0000-000000000002', 'P');
insert into sessions (trainer_id, id, client_id, place_id, name, planned_on, minutes) values
    ('00000000-0000-0000-0000-000000000001', '00000000-0000-0000-0000-00000000000a',
     '00000000-0000-0000-0000-000000000002', '00000000-0000-0000-0000-000000000003', 'A', '2026-03-09', 40),
    ('00000000-0000-0000-0000-000000000001', '00000000-0000-0000-0000-00000000000b',
     '00000000-0000-0000-0000-000000000002', '00000000-0000-0000-0000-000000000003', 'B', '2026-03-16', 40);
insert into blocks (trainer_id, id, session_id, position, kind)
    values ('00000000-0000-0000-0000-000000000001', '00000000-0000-0000-0000-000000000014',
            '00000000-0000-0000-0000-00000000000a', 0, 'straight');
insert into slots (trainer_id, id, block_id, position, intent)
    values ('00000000-0000-0000-0000-000000000001', '00000000-0000-0000-0000-00000000001e',
            '00000000-0000-0000-0000-000000000014', 0,
            '{"pattern":"elbow_flexion","regions":{"biceps_long":1.0},"reps":[8,12],"rir":2,"sets":2}');
insert into logged_sets (trainer_id, id, client_id, slot_id, place_id, position, performed_on, exercise, entry,
                         effective_kg, model_version, supersedes, logged_at, source, withdrawn)
    select '00000000-0000-0000-0000-000000000001', v.id::uuid, '00000000-0000-0000-0000-000000000002',
           case when v.source = 'session' then '00000000-0000-0000-0000-00000000001e'::uuid end,
           case when v.source = 'session' then '00000000-0000-0000-0000-000000000003'::uuid end,
           v.position, v.on_day::date, 'dumbbell_curl',
           jsonb_build_object('exercise', 'dumbbell_curl', 'date', v.on_day, 'reps', v.reps), 10, 1,
           v.supersedes::uuid, (v.on_day || 'T18:00:00Z')::timestamptz + make_interval(mins => v.position),
           v.source, v.withdrawn
    from (values
        ('00000000-0000-0000-0000-000000000064', 1::smallint, '2026-03-02', 10, null, 'session', false),
        ('00000000-0000-0000-0000-000000000065', 2::smallint, '2026-03-02', 9, null, 'session', false),
        ('00000000-0000-0000-0000-000000000066', 2::smallint, '2026-03-02', 8,
         '00000000-0000-0000-0000-000000000065', 'session', false),
        ('00000000-0000-0000-0000-000000000067', 1::smallint, '2026-03-09', 11, null, 'session', false),
        ('00000000-0000-0000-0000-000000000068', 1::smallint, '2026-03-01', 12, null, 'told', false),
        ('00000000-0000-0000-0000-000000000069', 1::smallint, '2026-03-01', 30, null, 'told', true))
        as v (id, position, on_day, reps, supersedes, source, withdrawn);
