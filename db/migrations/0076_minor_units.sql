-- Amounts of answers were kept in hundredths, whatever their currency. From now on they are in the minor unit that it has (ISO 4217), so
-- that thousandths of a dinar are not lost; those that are there are put over.
create function pg_temp.factor(currency text) returns numeric language sql immutable as $$
	select case
		when currency = any ('{BIF,CLP,DJF,GNF,ISK,JPY,KMF,KRW,PYG,RWF,UGX,UYI,VND,VUV,XAF,XOF,XPF}') then 0.01
		when currency = any ('{BHD,IQD,JOD,KWD,LYD,OMR,TND}') then 10
		when currency = any ('{CLF,UYW}') then 100
		else 1 end
$$;
-- answers by question
create function pg_temp.put_over(answers jsonb, questions jsonb) returns jsonb language sql immutable as $$
	select case when jsonb_typeof(answers) <> 'object' then answers else (
		select coalesce(jsonb_object_agg(a.key, case when q.factor <> 1 and jsonb_typeof(a.value) = 'number' then to_jsonb(round((a.value #>> '{}')::numeric * q.factor)) else a.value end), '{}')
		from jsonb_each(answers) a left join lateral (
			select pg_temp.factor(one #>> '{answer,currency}') factor from jsonb_array_elements(questions) one where one ->> 'key' = a.key and one #>> '{answer,is}' = 'money' limit 1
		) q on true) end
$$;
update item set
	answer_data = pg_temp.put_over(answer_data, spec -> 'questions'),
	answer_review = answer_review
		|| case when answer_review ? 'seen' then jsonb_build_object('seen', pg_temp.put_over(answer_review -> 'seen', spec -> 'questions')) else '{}' end
		|| case when answer_review ? 'corrected' then jsonb_build_object('corrected', (
			select jsonb_object_agg(c.key, c.value || jsonb_build_object('was', pg_temp.put_over(jsonb_build_object(c.key, c.value -> 'was'), spec -> 'questions') -> c.key))
			from jsonb_each(answer_review -> 'corrected') c)) else '{}' end
where kind = 'questionnaire' and jsonb_typeof(spec -> 'questions') = 'array' and exists (
	select from jsonb_array_elements(spec -> 'questions') one where one #>> '{answer,is}' = 'money' and pg_temp.factor(one #>> '{answer,currency}') <> 1);
-- a single question keeps its answer as it is
update item set answer_data = to_jsonb(round((answer_data #>> '{}')::numeric * pg_temp.factor(spec #>> '{answer,currency}')))
where kind = 'question' and spec #>> '{answer,is}' = 'money' and jsonb_typeof(answer_data) = 'number' and pg_temp.factor(spec #>> '{answer,currency}') <> 1;
